import { Box, Button, Typography } from '@mui/material';
import { byName } from '@sobrin/core';
import { sceneOf, tilesUnder } from '@sobrin/core/drawing';
import { replugged } from '@sobrin/core/editing';
import { MEDIUM_NAMES, portUses } from '@sobrin/core/engine';
import { type Link, type Medium, MEDIA } from '@sobrin/core/topology';
import { useMemo, useState } from 'react';
import { Choice, Row, TextInput } from '../../ui/fields';
import { type Facts } from '../../workers/facts';
import { useBench } from '../use-bench';
import { Heading, Part } from '../../ui/sections';
import { END_TEXTS } from './document-inspector';
import { RemoveButton } from './remove-button';
import { StateLine } from './state-line';
import { TintChoice } from './tint-choice';

export function LinkInspector({ id, facts, showsEngine }: { id: string; facts: Facts; showsEngine: boolean }) {
  const { document: topology, do: run } = useBench((state) => state);
  const link = topology.links[id];
  if (!link) return null;
  const name = (end: 'a' | 'b'): string => topology.devices[link[end].device]?.name ?? '';
  const set = (change: Record<string, unknown>, title = 'change the link'): void =>
    void run(title, { kind: 'setLink', id, set: change });
  const length = (text: string): void => {
    const metres = Number(text.replace(',', '.').replace(/\s*m$/, ''));
    set({ lengthM: text.trim() === '' || !Number.isFinite(metres) ? null : metres }, 'set the length');
  };
  return (
    <>
      <Heading title={`${name('a')} – ${name('b')}`} under={link.cableId ? `Cable ${link.cableId}` : 'Link'} />
      {showsEngine && <StateLine fact={facts.links[id]} />}
      {(['a', 'b'] as const).map((end) => (
        <Row key={end} label={end === 'a' ? 'From' : 'To'}>
          <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1.4fr) minmax(0, 1fr)', gap: 0.5 }}>
            <DeviceChoice id={id} link={link} end={end} />
            <PortChoice
              link={link}
              end={end}
              onChange={(port) => set({ [end]: { ...link[end], port } }, 'replug the link')}
            />
          </Box>
        </Row>
      ))}
      <Row label="Medium">
        <Choice
          label="Medium"
          value={link.medium}
          options={MEDIA.map((value) => ({ value, text: MEDIUM_NAMES[value] }))}
          onChange={(medium: Medium) => set({ medium }, 'change the medium')}
        />
      </Row>
      <Row label="Word">
        <TextInput
          label="Word in its middle"
          value={link.label ?? ''}
          maxLength={40}
          onCommit={(text) => set(text ? { label: text } : { label: null, tint: null }, 'write a word')}
        />
      </Row>
      {link.label && (
        <Row label="Tint">
          <TintChoice label="Tint beside its word" now={link.tint} onChange={(tint) => set({ tint }, 'tint a link')} />
        </Row>
      )}
      <Row label="Line">
        <Choice
          label="How thick its line is"
          value={link.thickness ?? ''}
          options={[
            { value: '', text: 'as the others' },
            { value: 'thin', text: 'thin, ¾' },
            { value: 'thick', text: 'thick, 1½' },
          ]}
          onChange={(value) => set({ thickness: value || null }, 'change a line')}
        />
      </Row>
      <Row label="Bends">
        <Choice
          label="Form of its bends"
          value={link.corners ?? ''}
          options={[
            { value: '', text: 'round' },
            { value: 'square', text: 'square' },
          ]}
          onChange={(value) => set({ corners: value || null }, 'change a line')}
        />
      </Row>
      <Row label="Written">
        <Choice
          label="What is written at its ends"
          value={link.endTexts ?? ''}
          options={[{ value: '', text: 'as in the whole drawing' }, ...END_TEXTS]}
          onChange={(value) => set({ endTexts: value || null }, 'choose what is written')}
        />
      </Row>
      {(link.bends ?? link.labelOffsets) && (
        <Row label="By hand">
          <Button
            size="small"
            variant="outlined"
            onClick={() => set({ bends: null, labelOffsets: null }, 'let it lie by itself')}
          >
            Undo bends and moved texts
          </Button>
          <HiddenPart id={id} />
        </Row>
      )}
      <Part title="Cable">
        <Row label="Identifier">
          <TextInput
            label="Cable identifier"
            mono
            value={link.cableId ?? ''}
            maxLength={80}
            onCommit={(text) => set({ cableId: text || null })}
          />
        </Row>
        <Row label="Length (m)">
          <TextInput
            label="Length in metres"
            mono
            value={link.lengthM === undefined ? '' : String(link.lengthM)}
            check={lengthProblem}
            onCommit={length}
          />
        </Row>
        <Row label="State">
          <Choice
            label="State of the cable"
            value={link.broken ? 'broken' : 'whole'}
            options={[
              { value: 'whole', text: 'whole' },
              { value: 'broken', text: 'broken' },
            ]}
            onChange={(value) => set({ broken: value === 'broken' ? true : null })}
          />
        </Row>
      </Part>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>
        Ports keep their settings when a cable is moved.
      </Typography>
      <RemoveButton what="this link" />
    </>
  );
}

/** What a link that a person bent runs beneath: it is not led round it, since they laid it there. */
function HiddenPart({ id }: { id: string }) {
  const topology = useBench((state) => state.document);
  const names = useMemo(() => {
    const { lines, tiles } = sceneOf(topology, { texts: false });
    const line = lines.get(id);
    return line ? tilesUnder(line, tiles.values()).map(({ name }) => name) : [];
  }, [topology, id]);
  if (!names.length) return null;
  return (
    <Typography variant="body2" sx={{ mt: 0.5, color: 'var(--ochre-text)' }}>
      Runs beneath {names.join(' and ')}: move a bend, or undo them and it goes round.
    </Typography>
  );
}

const lengthProblem = (text: string): string | null =>
  /^\s*\d+([.,]\d+)?\s*m?\s*$/.test(text) ? null : 'Write the length as a number of metres, for instance 12.5.';

/** The device that an end is plugged into: another one where that has a free port for it. */
function DeviceChoice({ id, link, end }: { id: string; link: Link; end: 'a' | 'b' }) {
  const { document: topology, do: run } = useBench((state) => state);
  const [refused, setRefused] = useState<string | null>(null);
  const other = link[end === 'a' ? 'b' : 'a'].device;
  const options = useMemo(
    () =>
      Object.entries(topology.devices)
        .flatMap(([value, { name }]) => (value === other ? [] : { value, text: name }))
        .sort((one, two) => byName(one.text, two.text)),
    [topology.devices, other],
  );
  return (
    <div>
      <Choice
        label={`Device at the ${end === 'a' ? 'first' : 'other'} end`}
        value={link[end].device}
        options={options}
        onChange={(device) => {
          const fitting = replugged(topology, id, end, device);
          const free = portUses(topology, device).find((use) => use.free)?.facts.key;
          // The cable stays what it is, as one in hand does: where it does not fit, the link says so.
          const port = fitting?.medium === link.medium ? fitting[end].port : free;
          setRefused(port === undefined ? `${topology.devices[device]?.name ?? ''} has no free port.` : null);
          if (port !== undefined) run('replug the link', { kind: 'setLink', id, set: { [end]: { device, port } } });
        }}
      />
      {refused && (
        <Typography role="alert" variant="body2" sx={{ color: 'var(--brick)' }}>
          {refused}
        </Typography>
      )}
    </div>
  );
}

/** The ports of an end: free ones, and those taken by another link are said to be so but can be chosen, as with a real cable in hand. */
function PortChoice({ link, end, onChange }: { link: Link; end: 'a' | 'b'; onChange: (port: string) => void }) {
  const topology = useBench((state) => state.document);
  const { device, member, port } = link[end];
  const options = portUses(topology, device, member).map((use) => ({
    value: use.facts.key,
    text: use.facts.key === port || use.free ? use.facts.key : `${use.facts.key} (taken)`,
  }));
  return (
    <Choice
      label={`Port of ${topology.devices[device]?.name ?? ''}`}
      value={port}
      options={options}
      onChange={onChange}
    />
  );
}
