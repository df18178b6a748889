import { Box, Button, Typography } from '@mui/material';
import { entriesById } from '@sobrin/core/topology';
import { NOTHING } from '../../drawing/selection';
import { Choice, Row, TextInput } from '../../ui/fields';
import { useBench } from '../use-bench';
import { Heading } from '../../ui/sections';

/** What can be written at the ends of links. */
export const END_TEXTS = [
  { value: 'both', text: 'ports and addresses' },
  { value: 'ports', text: 'ports' },
  { value: 'addresses', text: 'addresses' },
  { value: 'nothing', text: 'nothing' },
] as const;

/** The drawing itself: what stands in its title block. */
export function DocumentInspector() {
  const { document: topology, do: run, select } = useBench((state) => state);
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
      <Row label="Link ends">
        <Choice
          label="What is written at the ends of links"
          value={topology.endTexts ?? 'both'}
          options={END_TEXTS}
          onChange={(value) =>
            run('choose what is written', {
              kind: 'setDocument',
              set: { endTexts: value === 'both' ? null : value },
            })
          }
        />
      </Row>
      {entriesById(topology.pictures).length > 0 && (
        <Row label="Pictures">
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5 }}>
            {entriesById(topology.pictures).map(([id, { name }]) => (
              <Button key={id} size="small" variant="outlined" onClick={() => select({ ...NOTHING, pictures: [id] })}>
                {name}
              </Button>
            ))}
          </Box>
        </Row>
      )}
      <Typography variant="body2" color="text.secondary" sx={{ mt: 1.5 }}>
        The legend says what a reader of the drawing must know: what the lines mean, how things are named.
      </Typography>
    </>
  );
}
