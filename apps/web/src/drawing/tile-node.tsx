import { IconCheck, IconPlugConnected, IconQuestionMark, IconX } from '@tabler/icons-react';
import { type Tile } from '@sobrin/core/drawing';
import { Handle, type Node, type NodeProps, Position } from '@xyflow/react';
import { type CSSProperties, createContext, memo, useContext, useState } from 'react';
import { GLYPHS } from './glyphs';
import { type Mark } from './marks';

export interface TileData extends Record<string, unknown> {
  tile: Tile;
  second: string;
  /** The second line tells a mistake. */
  wrong: boolean;
  mark: Mark | null;
  /** In place of the mark's sign. */
  words: string | null;
  /** Whether one stands at this mark. */
  here: boolean;
  dimmed: boolean;
  linkable: boolean;
  /** Its name is being typed. */
  renaming: boolean;
}
export type TileNode = Node<TileData, 'tile'>;

/** A name that is being typed on a tile, and what becomes of it; null when it stays as it was. */
export interface TileRenaming {
  device: string;
  onDone: (name: string | null) => void;
}
const RenamingContext = createContext<TileRenaming | undefined>(undefined);
export const TileNames = RenamingContext.Provider;

/** A device. Both handles are always there: links would vanish silently without them. */
export const TileView = memo(function TileView({ data, selected }: NodeProps<TileNode>) {
  const { tile, second, wrong, mark, words, here, dimmed, linkable, renaming } = data;
  const Glyph = GLYPHS[tile.kind];
  const classes = [
    'tile',
    tile.shape,
    selected && 'selected',
    mark && `marked-${mark}`,
    dimmed && 'dimmed',
    tile.off && 'off',
  ]
    .filter(Boolean)
    .join(' ');
  const texts = (
    <>
      {renaming ? <NameField name={tile.name} /> : <div className="name">{tile.name}</div>}
      <div className={`second mono${wrong ? ' problem' : ''}`}>{second}</div>
    </>
  );
  return (
    <>
      {tile.count > 1 && <div className="tile-behind" />}
      <div className={classes} data-device={tile.id}>
        <Glyph size={tile.shape === 'lying' ? 20 : 22} stroke={1.6} aria-hidden />
        <span className="tag" aria-hidden>
          {tile.tag}
        </span>
        {tile.texts === 'inside' ? (
          texts
        ) : (
          <div className={`beside ${tile.texts}`} style={{ '--away': `${tile.away}px` } as CSSProperties}>
            {texts}
          </div>
        )}
        {tile.count > 1 && <span className="plate">×{tile.count}</span>}
        {mark && <MarkPlate mark={mark} words={words} here={here} />}
      </div>
      <Handle type="target" position={Position.Top} className="tile-target" isConnectable={linkable} id="tile" />
      <Handle
        type="source"
        position={Position.Bottom}
        className="tile-grip"
        isConnectable={linkable}
        id="grip"
        style={linkable ? undefined : { display: 'none' }}
      >
        <IconPlugConnected size={10} style={{ pointerEvents: 'none' }} aria-hidden />
      </Handle>
    </>
  );
});

/** Typing a name where it stands: Enter or leaving takes it, Escape leaves it as it was. */
function NameField({ name }: { name: string }) {
  const renaming = useContext(RenamingContext);
  const [text, setText] = useState(name);
  return (
    <input
      className="name-field nodrag nopan"
      aria-label={`New name of ${name}`}
      value={text}
      autoFocus
      size={Math.max(8, text.length + 1)}
      maxLength={64}
      onFocus={(event) => event.target.select()}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => renaming?.onDone(text)}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter') renaming?.onDone(text);
        if (event.key === 'Escape') renaming?.onDone(null);
      }}
    />
  );
}

function MarkPlate({ mark, words, here }: { mark: Mark; words: string | null; here: boolean }) {
  const Sign = mark === 'met' ? IconCheck : mark === 'lost' ? IconX : IconQuestionMark;
  return (
    <span className={`mark-plate ${mark}${words ? ' numbered' : ''}${here ? ' here' : ''}`}>
      {words ?? <Sign size={12} stroke={3} aria-hidden />}
    </span>
  );
}
