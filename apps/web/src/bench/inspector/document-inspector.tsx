import { Typography } from '@mui/material';
import { Row, TextInput } from '../../ui/fields';
import { useBench } from '../use-bench';
import { Heading } from '../../ui/sections';

/** The drawing itself: what stands in its title block. */
export function DocumentInspector() {
  const { document: topology, do: run } = useBench((state) => state);
  const set = (property: 'title' | 'author' | 'legend', text: string): void =>
    void run(`set the ${property}`, { kind: 'setDocument', set: { [property]: text || null } });
  return (
    <>
      <Heading title="About this drawing" under="Title block and legend" />
      <Row label="Title">
        <TextInput label="Title" value={topology.title ?? ''} onCommit={(text) => set('title', text)} />
      </Row>
      <Row label="Author">
        <TextInput
          label="Author"
          value={topology.author ?? ''}
          maxLength={80}
          onCommit={(text) => set('author', text)}
        />
      </Row>
      <Row label="Legend">
        <TextInput
          label="Legend"
          multiline
          value={topology.legend ?? ''}
          maxLength={20_000}
          onCommit={(text) => set('legend', text)}
        />
      </Row>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 1.5 }}>
        The legend says what a reader of the drawing must know: what the lines mean, how things are named.
      </Typography>
    </>
  );
}
