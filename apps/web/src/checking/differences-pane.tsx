import { Box, Button, Typography } from '@mui/material';
import { IconArrowLeft, IconMinus, IconPencil, IconPlus } from '@tabler/icons-react';
import { plural } from '@sobrin/core';
import { type EngineOptions } from '@sobrin/core/engine';
import { type DeviceTables } from '@sobrin/core/engine';
import { type CheckResult, type ReferenceDifference, referenceDifferences } from '@sobrin/core/spec';
import { type Topology, entryOf } from '@sobrin/core/topology';
import { useEffect, useMemo, useState } from 'react';
import { DeviceTablesView } from '../ui/device-tables';
import { Waiting } from '../ui/states';
import { type Ask } from '../workers/engine-requests';
import { useEngine } from '../workers/use-facts';

const SIGNS = { more: IconPlus, other: IconPencil, missing: IconMinus };
const TONES = { more: 'var(--spruce)', other: 'var(--ochre-text)', missing: 'var(--brick)' };
const WORDS = { more: 'only here', other: 'otherwise', missing: 'missing' };
/** More lines than this nobody reads: how many there are is told. */
const MOST = 300;

interface Pair {
  readonly drawn: string;
  readonly reference: string;
}

/** How the drawing differs from the reference, thing by thing, and what two devices that correspond know. */
export function DifferencesPane({
  reference,
  drawing,
  matching,
  options,
  ask,
  onShow,
}: {
  reference: Topology;
  drawing: Topology;
  matching: CheckResult['matching'];
  options: Partial<EngineOptions>;
  /** Asks about the student's drawing, as it was judged. */
  ask: Ask;
  /** Brings something of the student's drawing into sight. */
  onShow: (place: { device?: string; link?: string; site?: string }) => void;
}) {
  const [compared, setCompared] = useState<Pair | null>(null);
  const differences = useMemo(() => referenceDifferences(reference, drawing, matching), [reference, drawing, matching]);
  if (compared)
    return (
      <TwoTables
        pair={compared}
        reference={reference}
        drawing={drawing}
        options={options}
        ask={ask}
        onBack={() => setCompared(null)}
      />
    );
  if (!differences.length)
    return (
      <Typography color="text.secondary" sx={{ p: 2 }}>
        Nothing differs from the reference but names and places on the sheet.
      </Typography>
    );
  return (
    <Box sx={{ p: 2 }}>
      <Typography variant="body2" color="text.secondary" sx={{ mb: 1 }}>
        {plural(differences.length, 'difference')}, from the reference to this drawing. A difference is no mistake: the
        spec says what is asked.
      </Typography>
      <Box component="ul" aria-label="Differences" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {differences.slice(0, MOST).map((each) => (
          <Line
            key={`${each.what} ${each.sort} ${each.drawn ?? each.reference}`}
            difference={each}
            onShow={onShow}
            onCompare={setCompared}
          />
        ))}
        {differences.length > MOST && <li>and {differences.length - MOST} more</li>}
      </Box>
    </Box>
  );
}

function Line({
  difference: { what, sort, name, details, drawn, reference },
  onShow,
  onCompare,
}: {
  difference: ReferenceDifference;
  onShow: (place: { device?: string; link?: string; site?: string }) => void;
  onCompare: (pair: Pair) => void;
}) {
  const Sign = SIGNS[what];
  return (
    <Box component="li" sx={{ display: 'flex', gap: 1, py: '5px', borderBottom: '1px solid var(--line)' }}>
      <Sign size={16} style={{ color: TONES[what], flex: 'none', marginTop: 4 }} aria-hidden />
      <Typography variant="body2" sx={{ width: 104, flex: 'none', color: 'var(--ink2)', lineHeight: '24px' }}>
        {sort} {WORDS[what]}
      </Typography>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1 }}>
          {drawn === undefined ? (
            <b style={{ lineHeight: '24px' }}>{name}</b>
          ) : (
            <Button
              size="small"
              data-line
              onClick={() => onShow({ [sort]: drawn })}
              sx={{ minHeight: 24, minWidth: 0, py: 0, px: 0.5, ml: -0.5, textAlign: 'left' }}
            >
              {name}
            </Button>
          )}
          {sort === 'device' && drawn !== undefined && reference !== undefined && (
            <Button
              size="small"
              data-line
              aria-label={`Tables of ${name} beside the reference’s`}
              onClick={() => onCompare({ drawn, reference })}
              sx={{ minHeight: 24, minWidth: 0, py: 0, px: 0.5, fontWeight: 400 }}
            >
              tables
            </Button>
          )}
        </Box>
        {details.length > 0 && (
          <Typography variant="body2" color="text.secondary" sx={{ overflowWrap: 'anywhere' }}>
            {details.join(' · ')}
          </Typography>
        )}
      </Box>
    </Box>
  );
}

/** What two devices that correspond know, the student's first. */
function TwoTables({
  pair,
  reference,
  drawing,
  options,
  ask,
  onBack,
}: {
  pair: Pair;
  reference: Topology;
  drawing: Topology;
  options: Partial<EngineOptions>;
  ask: Ask;
  onBack: () => void;
}) {
  const { ask: askReference } = useEngine(reference, options);
  const own = useTables(ask, pair.drawn);
  const theirs = useTables(askReference, pair.reference);
  return (
    <Box sx={{ p: 2 }}>
      <Button size="small" data-line startIcon={<IconArrowLeft size={16} />} onClick={onBack} autoFocus sx={{ mb: 1 }}>
        All differences
      </Button>
      {own && theirs ? (
        [
          { title: `${entryOf(drawing.devices, pair.drawn)?.name ?? ''} here`, tables: own, against: theirs },
          {
            title: `${entryOf(reference.devices, pair.reference)?.name ?? ''} in the reference`,
            tables: theirs,
            against: own,
          },
        ].map(({ title, tables, against }) => (
          <Box component="section" key={title} aria-label={title} sx={{ mb: 2 }}>
            <Typography variant="h3" sx={{ mb: 1 }}>
              {title}
            </Typography>
            <DeviceTablesView tables={tables} against={against} />
          </Box>
        ))
      ) : (
        <Waiting what="Working the tables out" />
      )}
    </Box>
  );
}

function useTables(ask: Ask, device: string): DeviceTables | null {
  const [tables, setTables] = useState<{ ask: Ask; device: string; tables: DeviceTables | null } | null>(null);
  useEffect(() => {
    let isWanted = true;
    void ask('tables', device).then((found) => isWanted && setTables({ ask, device, tables: found }));
    return () => void (isWanted = false);
  }, [ask, device]);
  return tables?.ask === ask && tables.device === device ? tables.tables : null;
}
