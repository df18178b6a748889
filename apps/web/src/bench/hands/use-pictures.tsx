import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material';
import { type Spot } from '@sobrin/core/drawing';
import { type Picture } from '@sobrin/core/topology';
import { type ReactNode, useState } from 'react';
import { pick } from '../../api/files';
import { newShortId } from '../../api/new-id';
import { NOTHING } from '../../drawing/selection';
import { PICTURE_TYPES } from './picture-types';
import { useBench } from '../use-bench';

/** A picture to draw over is dimmed to this from the start. */
const UNDERLAY_DIM = 0.5;
/** A logo is no wider than this at first. */
const PICTURE_WIDTH = 240;

export interface Pictures {
  /** Asks for a file and puts it on the drawing, or beneath it. */
  choose: (beneath: boolean, middle: Spot) => void;
  /** Puts a file that was dropped where it was dropped. */
  take: (file: File, beneath: boolean, middle: Spot) => Promise<void>;
  move: (id: string, by: Spot) => void;
  size: (id: string, box: { x: number; y: number; width: number; height: number }) => void;
  /** Asks for the page of a PDF, while that is to be known. */
  asking: ReactNode;
}

/** Pictures on the drawing and beneath it. */
export function usePictures(tell: (text: string) => void): Pictures {
  const { document: topology, select, do: run } = useBench((state) => state);
  const [ask, setAsk] = useState<{ pages: number; answer: (page: number | null) => void } | null>(null);
  const set = (title: string, id: string, picture: Picture): boolean =>
    run(title, { kind: 'setPicture', id, set: picture });
  const take = async (file: File, beneath: boolean, middle: Spot): Promise<void> => {
    const choosePage = (pages: number): Promise<number | null> =>
      new Promise((resolve) =>
        setAsk({
          pages,
          answer: (page) => {
            setAsk(null);
            resolve(page);
          },
        }),
      );
    const { readPicture } = await import('./read-picture');
    const read = await readPicture(file, choosePage);
    if (!read) return;
    if (!read.ok) return tell(read.error);
    const scale = beneath ? 1 : Math.min(1, PICTURE_WIDTH / read.value.width);
    const [width, height] = [Math.round(read.value.width * scale), Math.round(read.value.height * scale)];
    const at = { x: Math.round(middle.x - width / 2), y: Math.round(middle.y - height / 2) };
    const id = newShortId('i');
    const { name, data } = read.value;
    const more = beneath ? { beneath: true, dim: UNDERLAY_DIM } : {};
    if (set(beneath ? 'put a picture beneath' : 'add a picture', id, { name, data, at, width, height, ...more }))
      select({ ...NOTHING, pictures: [id] });
  };
  return {
    take,
    choose: (beneath, middle) =>
      void pick(PICTURE_TYPES).then((file) => (file ? take(file, beneath, middle) : undefined)),
    move: (id, by) => {
      const picture = topology.pictures?.[id];
      if (!picture) return;
      const at = { x: Math.round(picture.at.x + by.x), y: Math.round(picture.at.y + by.y) };
      set('move a picture', id, { ...picture, at });
    },
    size: (id, { x, y, width, height }) => {
      const picture = topology.pictures?.[id];
      if (!picture) return;
      const at = { x: Math.round(x), y: Math.round(y) };
      set('size a picture', id, { ...picture, at, width: Math.round(width), height: Math.round(height) });
    },
    asking: ask && <PageDialog pages={ask.pages} onAnswer={ask.answer} />,
  };
}

function PageDialog({ pages, onAnswer }: { pages: number; onAnswer: (page: number | null) => void }) {
  const [text, setText] = useState('1');
  const page = Number(text);
  const fits = Number.isInteger(page) && page >= 1 && page <= pages;
  return (
    <Dialog open onClose={() => onAnswer(null)}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (fits) onAnswer(page);
        }}
      >
        <DialogTitle>Which page?</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            label={`Page, 1 to ${pages}`}
            value={text}
            error={!fits}
            onChange={(event) => setText(event.target.value)}
            sx={{ mt: 1, width: 240 }}
            slotProps={{ htmlInput: { inputMode: 'numeric' } }}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={() => onAnswer(null)}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={!fits}>
            Take it
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
