import {
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Stack,
  Typography,
} from '@mui/material';
import { byName } from '@sobrin/core';
import { findModels } from '@sobrin/core/bench';
import {
  type PlanOfLab,
  type PlanWish,
  type SubnetWish,
  type Wanted,
  likelyWishes,
  standsFor,
  subnetsOf,
  takeFromPlan,
} from '@sobrin/core/editing';
import { type PlanNode, vlanTones } from '@sobrin/core/plan';
import { type Policy } from '@sobrin/core/spec';
import { type Model, type Topology, modelOf } from '@sobrin/core/topology';
import { type FormEvent, type ReactNode, useDeferredValue, useId, useMemo, useState } from 'react';
import { newShortId } from '../../api/new-id';
import { Choice, TextInput } from '../../ui/fields';
import { Empty } from '../../ui/states';
import { VlanBadge } from '../../ui/vlan-badge';

interface FromPlanProps {
  topology: Topology;
  plan: PlanOfLab;
  /** What is chosen in the drawing: a router or a switch of it is meant. */
  chosen: readonly string[];
  /** The models that the lab allows; absent for all. */
  kit: Policy['kit'];
  onClose: () => void;
  onTake: (wish: PlanWish) => void;
}

/** Takes subnets of the plan to the drawing: gateways, leases and hosts, all in one step that says what it does. */
export default function FromPlanDialog(props: FromPlanProps) {
  return (
    <Dialog open onClose={props.onClose} maxWidth="md" fullWidth aria-label="From the plan">
      <FromPlan {...props} />
    </Dialog>
  );
}

const MOST_HOSTS = 48;
const COLUMNS = '28px minmax(120px, 1.3fr) minmax(110px, 1fr) 56px 68px minmax(110px, 1fr) 116px';

function FromPlan({ topology, plan, chosen, kit, onClose, onTake }: FromPlanProps) {
  const nodes = useMemo(() => bySite(subnetsOf(plan)), [plan]);
  const [wishes, setWishes] = useState(
    () => new Map(likelyWishes(topology, plan, nodes).map((wish) => [wish.node, wish])),
  );
  const [taken, setTaken] = useState(() => likelySubnets(topology, nodes, chosen));
  const toneOf = useMemo(() => vlanTones(plan.tree.plan), [plan]);
  const stands = useMemo(() => standsFor(topology), [topology]);
  const site = nodes.find(({ id }) => taken.has(id))?.block.site;
  const [router, setRouter] = useState(() => likely(at(topology, stands.routers, site), chosen, NEW_ROUTERS, kit));
  const [bridge, setBridge] = useState(() =>
    likely(switchesNear(topology, at(topology, stands.switches, site), router), chosen, NEW_SWITCHES, kit),
  );
  const [leases, setLeases] = useState(() => [...taken].some((id) => wishes.get(id)!.count > 0));
  const models = useMemo(
    () => findModels(topology, '').filter(([id, model]) => isAllowed(kit, id) && isPluggedIn(model)),
    [topology, kit],
  );
  const wish = useMemo((): PlanWish => {
    const subnets = nodes.flatMap(({ id }) => (taken.has(id) ? wishes.get(id)! : []));
    return { subnets, router: wanted(router), switch: wanted(bridge), leases: leases && router !== '' };
  }, [nodes, taken, wishes, router, bridge, leases]);
  const shown = useDeferredValue(wish);
  const outcome = useMemo(() => takeFromPlan(topology, plan, shown, () => newShortId('n')), [topology, plan, shown]);
  const set = (id: string, change: Partial<SubnetWish>): void =>
    setWishes(new Map(wishes).set(id, { ...wishes.get(id)!, ...change }));
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (outcome.commands.length) onTake(wish);
  };
  if (!nodes.length)
    return (
      <>
        <DialogContent>
          <Empty title="The plan has no subnets yet">
            Divide it into subnets first, each with its VLAN: then their gateways and hosts can be put on this sheet.
          </Empty>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Close</Button>
        </DialogActions>
      </>
    );
  return (
    // The subnets scroll, however many: what one does with them stays in sight.
    <Box component="form" onSubmit={submit} sx={{ display: 'flex', flexDirection: 'column', minHeight: 0 }}>
      <DialogTitle sx={{ pb: 1 }}>From the plan</DialogTitle>
      <DialogContent>
        <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap', alignItems: 'end', mb: 2 }}>
          <Labelled label="Gateways at">
            {(id) => (
              <Choice
                id={id}
                label="Gateways at"
                value={router}
                options={[
                  ...standing(topology, stands.routers),
                  ...fresh(topology, NEW_ROUTERS, kit),
                  { value: '', text: 'nowhere yet' },
                ]}
                onChange={setRouter}
              />
            )}
          </Labelled>
          <Labelled label="Hosts plugged into">
            {(id) => (
              <Choice
                id={id}
                label="Hosts plugged into"
                value={bridge}
                options={[
                  ...standing(topology, stands.switches),
                  ...fresh(topology, NEW_SWITCHES, kit),
                  { value: '', text: 'the router itself' },
                ]}
                onChange={setBridge}
              />
            )}
          </Labelled>
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={leases && router !== ''}
                disabled={router === ''}
                onChange={() => setLeases(!leases)}
              />
            }
            label="The router gives leases"
          />
        </Stack>
        <Box
          role="group"
          aria-label="Subnets"
          sx={{ display: 'grid', gridTemplateColumns: COLUMNS, gap: '4px 8px', alignItems: 'center', minWidth: 620 }}
        >
          {['', 'Subnet', 'Prefix', 'VLAN', 'New hosts', 'Kind', 'Addresses'].map((text) => (
            <Typography key={text} variant="body2" color="text.secondary">
              {text}
            </Typography>
          ))}
          {nodes.map((node, at) => (
            <SubnetRow
              key={node.id}
              node={node}
              site={node.block.site !== nodes[at - 1]?.block.site ? (node.block.site ?? '') : undefined}
              tone={toneOf(node.block)}
              isTaken={taken.has(node.id)}
              wish={wishes.get(node.id)!}
              models={models}
              onTake={(isTaken) => {
                const next = new Set(taken);
                if (isTaken) next.add(node.id);
                else next.delete(node.id);
                setTaken(next);
              }}
              onChange={(change) => set(node.id, change)}
            />
          ))}
        </Box>
        <Box role="status" sx={{ mt: 2, pt: 1.5, borderTop: '1px solid var(--line)', minHeight: 96 }}>
          {outcome.commands.length === 0 && !outcome.left.length && (
            <Typography color="text.secondary">
              Nothing to add: what is chosen stands in the drawing already.
            </Typography>
          )}
          {outcome.done.map((text) => (
            <Typography key={text}>{text}.</Typography>
          ))}
          {outcome.left.map((text) => (
            <Typography key={text} sx={{ color: 'var(--ochre-text)' }}>
              {text}
            </Typography>
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" variant="contained" autoFocus disabled={outcome.commands.length === 0}>
          Put on the sheet
        </Button>
      </DialogActions>
    </Box>
  );
}

function SubnetRow({
  node,
  site,
  tone,
  isTaken,
  wish,
  models,
  onTake,
  onChange,
}: {
  node: PlanNode;
  /** The site that begins with this line. */
  site: string | undefined;
  tone: number | null;
  isTaken: boolean;
  wish: SubnetWish;
  models: readonly [string, Model][];
  onTake: (isTaken: boolean) => void;
  onChange: (change: Partial<SubnetWish>) => void;
}) {
  const { name, prefix, prefix6, vlan } = node.block;
  return (
    <>
      {site && (
        <Typography variant="h3" sx={{ gridColumn: '1 / -1', pt: 0.5 }}>
          {site}
        </Typography>
      )}
      <Checkbox
        size="small"
        checked={isTaken}
        onChange={(_event, checked) => onTake(checked)}
        slotProps={{ input: { 'aria-label': `Take ${name}` } }}
        sx={{ p: 0.25 }}
      />
      <span>{name}</span>
      <span className="mono" style={{ fontSize: 12.5 }} title={prefix6}>
        {prefix}
      </span>
      <span>
        {vlan === undefined ? (
          <span style={{ color: 'var(--ink3)' }}>none</span>
        ) : (
          <VlanBadge vlan={vlan} tone={tone} />
        )}
      </span>
      <TextInput
        label={`New hosts of ${name}`}
        mono
        strict
        disabled={!isTaken}
        value={String(wish.count)}
        check={countProblem}
        onCommit={(text) => countProblem(text) === null && onChange({ count: Number(text) })}
      />
      <Choice
        label={`Kind of the hosts of ${name}`}
        value={wish.model}
        disabled={!isTaken || wish.count === 0}
        options={models.map(([value, model]) => ({ value, text: model.name }))}
        onChange={(model) => onChange({ model })}
      />
      <Choice
        label={`Addresses of the hosts of ${name}`}
        value={wish.addressing}
        disabled={!isTaken || wish.count === 0 || wish.model === 'access-point'}
        options={[
          { value: 'automatic', text: 'automatic' },
          { value: 'fixed', text: 'fixed' },
        ]}
        onChange={(addressing) => onChange({ addressing })}
      />
    </>
  );
}

const Labelled = ({ label, children }: { label: string; children: (id: string) => ReactNode }) => {
  const id = useId();
  return (
    <Box sx={{ width: 240 }}>
      <Typography
        component="label"
        htmlFor={id}
        variant="body2"
        color="text.secondary"
        sx={{ display: 'block', mb: 0.25 }}
      >
        {label}
      </Typography>
      {children(id)}
    </Box>
  );
};

const countProblem = (text: string): string | null =>
  /^\d{1,2}$/.test(text) && Number(text) <= MOST_HOSTS ? null : `0 to ${MOST_HOSTS}`;

/** Subnets of one site one after the other, sites and subnets in the order of the plan. */
function bySite(nodes: readonly PlanNode[]): PlanNode[] {
  const sites = [...new Set(nodes.map(({ block }) => block.site))];
  return sites.flatMap((site) => nodes.filter(({ block }) => block.site === site));
}

/** A choice: "d " and a device, "m " and a model, or nothing. */
type Stand = string;
const wanted = (stand: Stand): Wanted | null =>
  stand.startsWith('d ') ? { device: stand.slice(2) } : stand.startsWith('m ') ? { model: stand.slice(2) } : null;
const NEW_ROUTERS = ['border-router', 'l3-switch', 'firewall'] as const;
const NEW_SWITCHES = ['access-switch-12', 'access-switch-20', 'access-switch-44'] as const;
const isAllowed = (kit: Policy['kit'], model: string): boolean => kit === undefined || Object.hasOwn(kit, model);
const isPluggedIn = ({ class: kind, ports, kind: what }: Model): boolean =>
  (kind === 'end' || what === 'access-point') && ports.some(({ connector }) => connector === 'copper');

const standing = (topology: Topology, ids: readonly string[]): { value: Stand; text: string }[] =>
  ids
    .map((id) => ({ value: `d ${id}`, text: topology.devices[id]!.name }))
    .sort((one, other) => byName(one.text, other.text));
const fresh = (topology: Topology, models: readonly string[], kit: Policy['kit']): { value: Stand; text: string }[] =>
  findModels(topology, '')
    .filter(([id]) => models.includes(id) && isAllowed(kit, id))
    .map(([id, { name }]) => ({ value: `m ${id}`, text: `a new ${name.toLowerCase()}` }));

/** What is chosen in the drawing, else what stands there, else a new one. */
function likely(
  ids: readonly string[],
  chosen: readonly string[],
  models: readonly string[],
  kit: Policy['kit'],
): Stand {
  const device = ids.find((id) => chosen.includes(id)) ?? ids[0];
  if (device !== undefined) return `d ${device}`;
  const model = models.find((id) => isAllowed(kit, id));
  return model === undefined ? '' : `m ${model}`;
}

/** Devices of a site, those that stand at none before those of another. */
const at = ({ devices, sites }: Topology, ids: readonly string[], site: string | undefined): string[] => {
  const rank = (id: string): number => {
    const own = sites[devices[id]!.site ?? '']?.name;
    return own === site ? 0 : own === undefined ? 1 : 2;
  };
  return ids.toSorted((one, other) => rank(one) - rank(other)).filter((id) => site === undefined || rank(id) < 2);
};

/** Switches with those in front that the router is cabled to. */
function switchesNear(topology: Topology, switches: readonly string[], router: Stand): string[] {
  const near = new Set(
    Object.values(topology.links).flatMap(({ a, b }) =>
      `d ${a.device}` === router ? b.device : `d ${b.device}` === router ? a.device : [],
    ),
  );
  const plain = switches.filter((id) => modelOf(topology, topology.devices[id]!)?.kind !== 'hub');
  return [...plain.filter((id) => near.has(id)), ...plain.filter((id) => !near.has(id))];
}

/** The subnets of the site where what is chosen stands; else of the first site of the plan. */
function likelySubnets(topology: Topology, nodes: readonly PlanNode[], chosen: readonly string[]): ReadonlySet<string> {
  const at = topology.sites[topology.devices[chosen[0] ?? '']?.site ?? '']?.name;
  const site = nodes.some(({ block }) => block.site === at) ? at : nodes[0]?.block.site;
  return new Set(nodes.flatMap(({ id, block }) => (block.site === site ? id : [])));
}
