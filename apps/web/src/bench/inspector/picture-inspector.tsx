import { type Picture } from '@sobrin/core/topology';
import { Choice, Row, TextInput } from '../../ui/fields';
import { Heading } from '../../ui/sections';
import { useBench } from '../use-bench';
import { RemoveButton } from './remove-button';

const DIMS = [0, 0.25, 0.5, 0.75, 0.9].map((value) => ({
  value: String(value),
  text: value === 0 ? 'not at all' : `by ${value * 100} %`,
}));

/** A picture: beneath the drawing, to be drawn over, or on it. */
export function PictureInspector({ id }: { id: string }) {
  const { document: topology, do: run } = useBench((state) => state);
  const picture = topology.pictures?.[id];
  if (!picture) return null;
  const set = (title: string, change: Partial<Picture>): void =>
    void run(title, { kind: 'changePicture', id, set: change });
  return (
    <>
      <Heading
        title={picture.name}
        under={picture.beneath ? 'Beneath the drawing: clicks go through it' : 'On the drawing'}
      />
      <Row label="Name">
        <TextInput
          label="Name of the picture"
          value={picture.name}
          maxLength={80}
          onCommit={(name) => set('rename a picture', { name: name || picture.name })}
        />
      </Row>
      <Row label="Lies">
        <Choice
          label="Where the picture lies"
          value={picture.beneath ? 'beneath' : 'on'}
          options={[
            { value: 'on', text: 'on the drawing' },
            { value: 'beneath', text: 'beneath it' },
          ]}
          onChange={(value) =>
            run('put a picture elsewhere', {
              kind: 'changePicture',
              id,
              set: { beneath: value === 'beneath' ? true : null },
            })
          }
        />
      </Row>
      <Row label="Width">
        <TextInput
          label="Width of the picture"
          mono
          strict
          value={String(picture.width)}
          check={(text) => (/^[1-9]\d{0,4}$/.test(text) ? null : 'A width from 1 to 99999 pixels of the drawing.')}
          onCommit={(text) => {
            const width = Number(text);
            set('size a picture', { width, height: Math.round((picture.height * width) / picture.width) });
          }}
        />
      </Row>
      <Row label="Dimmed">
        <Choice
          label="How much it is dimmed"
          value={String(picture.dim ?? 0)}
          options={
            DIMS.some((dim) => Number(dim.value) === (picture.dim ?? 0))
              ? DIMS
              : [...DIMS, { value: String(picture.dim), text: `by ${Math.round((picture.dim ?? 0) * 100)} %` }]
          }
          onChange={(value) => set('dim a picture', { dim: Number(value) })}
        />
      </Row>
      <RemoveButton what="this picture" />
    </>
  );
}
