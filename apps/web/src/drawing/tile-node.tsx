import { IconCheck, IconPlugConnected, IconQuestionMark, IconX } from '@tabler/icons-react';
import { type Tile } from '@sobrin/core/drawing';
import { Handle, type Node, type NodeProps, Position } from '@xyflow/react';
import { type CSSProperties, createContext, memo, useContext, useId, useState } from 'react';
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
      {renaming ? <NameField name={tile.name} /> : <NameLines tile={tile} />}
      <div className={`second mono${wrong ? ' problem' : ''}`}>{second}</div>
    </>
  );
  return (
    <>
      {tile.count > 1 && <div className="tile-behind" />}
      <div
        className={classes}
        data-device={tile.id}
        data-tint={tile.tint ?? undefined}
        style={tile.tint === null ? undefined : ({ '--tint': `var(--vlan-${tile.tint})` } as CSSProperties)}
      >
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

/** The name, in lines where its neighbours leave no room for the whole. */
const NameLines = ({ tile: { name, written } }: { tile: Tile }) =>
  written ? (
    <div title={name}>
      {written.lines.map((line, at) => (
        <div key={at} className="name" style={{ maxWidth: written.width + 2, margin: '0 auto' }}>
          {line}
        </div>
      ))}
    </div>
  ) : (
    <div className="name">{name}</div>
  );

/** As long as names may be. */
const LONGEST_NAME = 80;

/** Typing a name where it stands: Enter or leaving takes it, Escape leaves it as it was. Too long a one is said, not cut. */
function NameField({ name }: { name: string }) {
  const renaming = useContext(RenamingContext);
  const [text, setText] = useState(name);
  const helpId = useId();
  const isTooLong = text.trim().length > LONGEST_NAME;
  const take = (): void => {
    if (!isTooLong) renaming?.onDone(text);
  };
  return (
    <>
      <input
        className="name-field nodrag nopan"
        aria-label={`New name of ${name}`}
        aria-invalid={isTooLong}
        aria-describedby={isTooLong ? helpId : undefined}
        value={text}
        autoFocus
        size={Math.max(8, Math.min(text.length + 1, 40))}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setText(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter') take();
          if (event.key === 'Escape') renaming?.onDone(null);
        }}
      />
      {isTooLong && (
        <span id={helpId} className="name-problem" role="alert">
          {text.trim().length} letters: a name has at most {LONGEST_NAME}.
        </span>
      )}
    </>
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
