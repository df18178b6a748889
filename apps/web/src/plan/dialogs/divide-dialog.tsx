import {
  Alert,
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Tab,
  Tabs,
  Typography,
} from '@mui/material';
import { type Result, plural } from '@sobrin/core';
import { formatPrefix } from '@sobrin/core/address';
import {
  type Division,
  type PlanNode,
  divideBySizes,
  divideEqually,
  layOutGroups,
  mainSpace,
  divisionCommands,
} from '@sobrin/core/plan';
import { useMemo, useState } from 'react';
import { newShortId } from '../../api/new-id';
import { Choice, Row, TextInput } from '../../ui/fields';
import { usePlan, usePlanFacts, usePlanSetting } from '../use-plan';
import { IF_SMALL } from '../../ui/frame';

type Way = 'equal' | 'sizes' | 'groups';

/** Divides a block: into equal parts, into parts of given sizes, or for all groups of the brief. What comes of it is shown before. */
export default function DivideDialog({ node, first, onClose }: { node: PlanNode; first: Way; onClose: () => void }) {
  const tree = usePlanFacts((facts) => facts.tree);
  const { do: run, select } = usePlan((state) => state);
  const { brief, laysOut } = usePlanSetting();
  const [way, setWay] = useState<Way>(first);
  const [parts, setParts] = useState('4');
  const [sizes, setSizes] = useState('');
  const [options, setOptions] = useState({ grow: false, bySite: true, align: 'size', vlans: true, vlanFrom: '10' });
  const result = useMemo((): Result<Division, string> => {
    if (way === 'equal') return divideEqually(tree, node.id, Number(parts));
    if (way === 'sizes') return divideBySizes(tree, node.id, sizes);
    return layOutGroups(tree, node.id, brief, {
      grow: options.grow,
      bySite: options.bySite,
      align: options.align === 'size' ? null : Number(options.align),
      vlanFrom: options.vlans ? Math.max(1, Number(options.vlanFrom) || 10) : null,
    });
  }, [way, tree, node, parts, sizes, brief, options]);
  const commit = (): void => {
    if (!result.ok) return;
    const { ids, commands } = divisionCommands(result.value, () => newShortId('b'));
    if (!run(`divide ${node.block.name}`, ...commands)) return;
    select({ blocks: ids.slice(0, 1), address: null, range: null });
    onClose();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle sx={{ pb: 0.5 }}>
        Divide {node.block.name}{' '}
        <span className="mono">{[node.block.prefix, node.block.prefix6].filter(Boolean).join(' · ')}</span>
      </DialogTitle>
      <Box
        component="form"
        onSubmit={(event) => {
          event.preventDefault();
          commit();
        }}
        sx={{ display: 'contents' }}
      >
        <DialogContent sx={{ height: 460 }}>
          <Tabs value={way} onChange={(_event, next: Way) => setWay(next)} sx={{ mb: 1.5, minHeight: 36 }}>
            <Tab value="equal" label="Equal parts" />
            <Tab value="sizes" label="Parts of given sizes" />
            {laysOut && <Tab value="groups" label="For all groups" />}
          </Tabs>
          <Box
            sx={{
              display: 'grid',
              gridTemplateColumns: '300px minmax(0, 1fr)',
              gap: 3,
              [IF_SMALL]: { gridTemplateColumns: 'minmax(0, 1fr)' },
            }}
          >
            <div>
              {way === 'equal' && (
                <Row label="Parts">
                  <TextInput
                    label="Number of parts"
                    mono
                    autoFocus
                    value={parts}
                    onDraft={setParts}
                    onCommit={setParts}
                    strict
                    check={(text) => (/^\d{1,3}$/.test(text) ? null : 'A number from 2 to 256.')}
                  />
                </Row>
              )}
              {way === 'sizes' && (
                <>
                  <TextInput
                    label="Sizes of the parts"
                    multiline
                    autoFocus
                    maxLength={4000}
                    value={sizes}
                    onDraft={setSizes}
                    onCommit={setSizes}
                    placeholder={'Guests 200\nTickets 40\n/28'}
                  />
                  <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>
                    One part a line, or commas between: a name if you like, then the number of addresses it must hold
                    (gateway included) or a prefix length.
                  </Typography>
                </>
              )}
              {way === 'groups' && <LayoutChoices options={options} onChange={setOptions} />}
            </div>
            <div role="status" aria-label="What comes of it">
              {result.ok ? (
                <Preview division={result.value} node={node} />
              ) : (
                <Alert severity="info" variant="outlined">
                  {result.error}
                </Alert>
              )}
            </div>
          </Box>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={!result.ok}>
            {result.ok ? `Add ${plural(result.value.blocks.length, 'block')}` : 'Divide'}
          </Button>
        </DialogActions>
      </Box>
    </Dialog>
  );
}

interface Options {
  grow: boolean;
  bySite: boolean;
  align: string;
  vlans: boolean;
  vlanFrom: string;
}

function LayoutChoices({ options, onChange }: { options: Options; onChange: (options: Options) => void }) {
  const check = (property: 'grow' | 'bySite' | 'vlans', label: string) => (
    <FormControlLabel
      control={
        <Checkbox
          size="small"
          checked={options[property]}
          onChange={(_event, on) => onChange({ ...options, [property]: on })}
        />
      }
      label={label}
      sx={{ display: 'flex' }}
    />
  );
  return (
    <>
      {check('bySite', 'A block for each site')}
      {check('grow', 'Room beside each subnet to double it')}
      {check('vlans', 'Number the VLANs')}
      {options.vlans && (
        <Row label="from">
          <TextInput
            label="First VLAN"
            mono
            value={options.vlanFrom}
            onDraft={(vlanFrom) => onChange({ ...options, vlanFrom })}
            onCommit={(vlanFrom) => onChange({ ...options, vlanFrom })}
            strict
            check={(text) => (/^\d{1,4}$/.test(text) && Number(text) >= 1 && Number(text) <= 4094 ? null : '1 to 4094')}
          />
        </Row>
      )}
      <Row label="Aligned">
        <Choice
          label="Alignment"
          value={options.align}
          options={[
            { value: 'size', text: 'each to its own size' },
            { value: '26', text: 'each in a /26 of its own' },
            { value: '25', text: 'each in a /25 of its own' },
            { value: '24', text: 'each in a /24 of its own' },
          ]}
          onChange={(align) => onChange({ ...options, align })}
        />
      </Row>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>
        Largest first, each as small as its later number allows. Groups that have a subnet already are left as they are.
      </Typography>
    </>
  );
}

function Preview({ division, node }: { division: Division; node: PlanNode }) {
  const { blocks, ranges, free, waste } = division;
  const hasVlans = blocks.some((block) => block.vlan !== undefined);
  const hasSix = blocks.some((block) => block.prefix6 !== undefined);
  const wasted = [
    [waste.inside, 'addresses beyond what is needed later, in the subnets'],
    [waste.growth, 'addresses kept free for doubling'],
    [waste.alignment, 'addresses skipped for the alignment'],
    [waste.sites, 'addresses left over in the blocks of sites'],
  ] as const;
  const left = free[mainSpace(node)?.family ?? 4];
  return (
    <>
      <Box
        component="table"
        sx={{
          width: '100%',
          borderCollapse: 'collapse',
          '& td, & th': { textAlign: 'left', py: '3px', pr: 1, borderBottom: '1px solid var(--line)' },
          '& th': { fontSize: 12, color: 'var(--ink2)' },
        }}
      >
        <thead>
          <tr>
            <th>Block</th>
            <th>{hasSix ? 'IPv4' : 'Prefix'}</th>
            {hasSix && <th>IPv6</th>}
            {hasVlans && <th>VLAN</th>}
          </tr>
        </thead>
        <tbody>
          {blocks.slice(0, 60).map((block, at) => (
            <tr key={at} style={{ color: block.standing === 'kept-free' ? 'var(--ink2)' : undefined }}>
              <td>{block.name}</td>
              <td className="mono">{block.prefix}</td>
              {hasSix && <td className="mono">{block.prefix6}</td>}
              {hasVlans && <td className="mono">{block.vlan}</td>}
            </tr>
          ))}
        </tbody>
      </Box>
      {blocks.length > 60 && <Typography color="text.secondary">… and {blocks.length - 60} more</Typography>}
      <Typography sx={{ mt: 1 }}>
        {left.length
          ? `Left free in ${node.block.name}: ${left.slice(0, 6).map(formatPrefix).join(', ')}${left.length > 6 ? ', …' : ''}.`
          : `Nothing is left free in ${node.block.name}.`}
        {ranges.length > 0 && ` ${ranges.length} ranges are set aside by the brief’s address scheme.`}
      </Typography>
      {wasted
        .filter(([count]) => count > 0n)
        .map(([count, words]) => (
          <Typography key={words} color="text.secondary">
            {String(count)} {words}.
          </Typography>
        ))}
    </>
  );
}
