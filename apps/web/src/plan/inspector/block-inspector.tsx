import { Box, Button, Stack, Typography } from '@mui/material';
import { IconArrowsSplit2, IconTrash } from '@tabler/icons-react';
import { plural } from '@sobrin/core';
import {
  type Prefix,
  bitGroups,
  formatAddress,
  formatMask,
  formatPrefix,
  lastOf,
  maskOf,
  parseAddress,
} from '@sobrin/core/address';
import {
  type Block,
  type PlanNode,
  BLOCK_USES,
  STANDINGS,
  VOICE,
  isFor,
  fillOf,
  freeIn,
  isSubnet,
  mainSpace,
  schemeGateway,
  schemesOf,
  usableIn,
  vlanTones,
  removePlanned,
} from '@sobrin/core/plan';
import { useState } from 'react';
import { newShortId } from '../../api/new-id';
import { Choice, Row, TextInput } from '../../ui/fields';
import { MathWords } from '../../ui/math-words';
import { Part } from '../../ui/sections';
import { percent } from '../plan-rows';
import { STANDING_WORDS } from '../standing-icon';
import { usePlan, usePlanFacts, usePlanSetting } from '../use-plan';
import { VlanBadge } from '../../ui/vlan-badge';
import { AddressesPart } from './addresses-part';
import { BitLines } from './bit-lines';
import { PrefixField } from './prefix-field';
import { RangesPart } from './ranges-part';

export const USE_WORDS: Record<(typeof BLOCK_USES)[number], string> = {
  hosts: 'hosts',
  link: 'the two ends of a link',
  loopback: 'loopbacks',
  translation: 'address translation (NAT)',
};

const vlanProblem = (text: string): string | null =>
  /^\d{1,4}$/.test(text) && Number(text) >= 1 && Number(text) <= 4094 ? null : 'VLANs have the numbers 1 to 4094.';

/** One block: where it is, what it is for, why it has its size, and what is in it. */
export function BlockInspector({
  node,
  onDivide,
  onFree,
  onWorkings,
}: {
  node: PlanNode;
  onDivide: () => void;
  onFree: (within: string, prefix: Prefix) => void;
  onWorkings: (text: string) => void;
}) {
  const { tree, needs, problems } = usePlanFacts((facts) => facts);
  const run = usePlan((state) => state.do);
  const { brief, showsResults } = usePlanSetting();
  const { id, block, space } = node;
  const set = (change: { [K in keyof Block]?: Block[K] | null }, title = 'change a block'): void =>
    void run(title, { kind: 'setBlock', id, set: change });
  const prefix = mainSpace(node);
  const need = needs.find((need) => isFor(block, need));
  const voices = needs.filter((need) => !need.group);
  const own = (problems ?? []).filter((problem) => problem.at.block === id);
  const divided = !isSubnet(node);
  return (
    <>
      <Stack direction="row" spacing={1} sx={{ alignItems: 'center', mb: 0.5 }}>
        <Typography variant="h2" sx={{ fontSize: 16, flex: 1 }} noWrap>
          {block.name || '(no name)'}
        </Typography>
        {block.vlan !== undefined && <VlanBadge vlan={block.vlan} tone={vlanTones(tree.plan)(block)} />}
      </Stack>
      {showsResults &&
        own.map((problem) => (
          <Box key={problem.text} sx={{ borderLeft: '3px solid var(--brick)', pl: 1, my: 0.75, lineHeight: '18px' }}>
            {problem.text}
          </Box>
        ))}
      <Row label="Prefix" narrow>
        <PrefixField key={`4 ${node.id}`} node={node} property="prefix" label="Prefix" />
      </Row>
      {(space[4] !== null || block.prefix6 !== undefined) && (
        <Row label="IPv6" narrow>
          <PrefixField key={`6 ${node.id}`} node={node} property="prefix6" label="IPv6 prefix" />
        </Row>
      )}
      <Stack direction="row" spacing={1} sx={{ my: 1 }}>
        <Button size="small" variant="outlined" startIcon={<IconArrowsSplit2 size={15} />} onClick={onDivide}>
          Divide&ensp;<kbd>D</kbd>
        </Button>
        <Button
          size="small"
          color="error"
          startIcon={<IconTrash size={15} />}
          onClick={() => run('remove a block', ...removePlanned(tree, { blocks: [id], address: null, range: null }))}
        >
          Remove{divided && ' with all in it'}
        </Button>
      </Stack>
      {need && showsResults && prefix?.family === 4 && (
        <Part title={`Why /${need.length}`}>
          <Typography sx={{ lineHeight: '20px' }}>
            <MathWords text={`${need.later.words}.`} />
          </Typography>
        </Part>
      )}
      {divided ? <Divided key={id} node={node} onFree={onFree} /> : <AddressesPart key={id} node={node} />}
      {prefix && (
        <Part
          title="In binary"
          aside={
            <Button size="small" onClick={() => onWorkings(block.prefix)} sx={{ minHeight: 22, py: 0, fontSize: 12 }}>
              all steps
            </Button>
          }
        >
          <BitLines
            small
            lines={[
              { name: 'block', text: '', groups: bitGroups(prefix.family, prefix.value), network: prefix.length },
              {
                name: 'mask',
                text: '',
                groups: bitGroups(prefix.family, maskOf(prefix.family, prefix.length)),
                network: prefix.length,
              },
              {
                name: 'last',
                text: '',
                groups: bitGroups(prefix.family, lastOf(prefix).value),
                network: prefix.length,
              },
            ].slice(0, prefix.family === 4 ? 3 : 1)}
          />
          {prefix.family === 4 && (
            <Facts
              facts={[
                ['Mask', formatMask(prefix.length)],
                ['First usable', formatAddress(usableIn(block, prefix).from)],
                ['Last usable', formatAddress(usableIn(block, prefix).to)],
                ['Last', formatAddress(lastOf(prefix))],
              ]}
            />
          )}
        </Part>
      )}
      <Part title="About it">
        <Row label="Name" narrow>
          <TextInput
            id="block-name"
            label="Name"
            value={block.name}
            maxLength={80}
            onCommit={(name) => set({ name }, 'rename a block')}
          />
        </Row>
        <Row label="Group" narrow>
          <Choice
            label="Group"
            value={block.group ?? (need ? need.key : '')}
            options={[
              { value: '', text: 'none' },
              ...(brief.groups ?? []).map((group) => ({
                value: group.id,
                text: group.site ? `${group.name}, ${group.site}` : group.name,
              })),
              ...voices.map(({ key, name, site }) => ({ value: key, text: site ? `${name}, ${site}` : name })),
            ]}
            onChange={(chosen) => {
              const voice = voices.find(({ key }) => key === chosen);
              if (voice) set({ group: null, purpose: VOICE, site: voice.site ?? null });
              else set({ group: chosen || null, ...(need && !need.group && { purpose: null }) });
            }}
          />
        </Row>
        <Row label="Site" narrow>
          <TextInput
            label="Site"
            value={block.site ?? ''}
            maxLength={80}
            suggestions={(brief.sites ?? []).map((site) => site.name)}
            onCommit={(text) => set({ site: text.trim() || null })}
          />
        </Row>
        <Row label="VLAN" narrow>
          <TextInput
            label="VLAN"
            mono
            value={block.vlan === undefined ? '' : String(block.vlan)}
            strict
            check={vlanProblem}
            onCommit={(text) =>
              (text === '' || vlanProblem(text) === null) && set({ vlan: text === '' ? null : Number(text) })
            }
          />
        </Row>
        <Row label="Purpose" narrow>
          <TextInput
            label="Purpose"
            value={block.purpose ?? ''}
            onCommit={(text) => set({ purpose: text.trim() || null })}
          />
        </Row>
        <Row label="Standing" narrow>
          <Choice
            label="Standing"
            value={block.standing ?? 'proposed'}
            options={STANDINGS.map((value) => ({ value, text: STANDING_WORDS[value] }))}
            onChange={(standing) => set({ standing })}
          />
        </Row>
        {!divided && <SubnetRows node={node} set={set} />}
      </Part>
      {!divided && <RangesPart node={node} newId={() => newShortId('r')} />}
    </>
  );
}

const Facts = ({ facts }: { facts: readonly (readonly [string, string])[] }) => (
  <Box
    component="dl"
    sx={{ display: 'grid', gridTemplateColumns: '92px 1fr', m: 0, mt: 1, rowGap: '3px', '& dd': { m: 0 } }}
  >
    {facts.map(([name, value]) => (
      <Box key={name} sx={{ display: 'contents' }}>
        <Box component="dt" sx={{ color: 'var(--ink2)' }}>
          {name}
        </Box>
        <dd className="mono">{value}</dd>
      </Box>
    ))}
  </Box>
);

/** How much of a divided block is given away, what is free in it, and the next free block of a size. */
function Divided({ node, onFree }: { node: PlanNode; onFree: (within: string, prefix: Prefix) => void }) {
  const { tree, ranges } = usePlanFacts((facts) => facts);
  const { brief } = usePlanSetting();
  const [length, setLength] = useState('');
  const families = ([4, 6] as const).filter((family) => node.space[family]);
  const family = families[0];
  const space = family && freeIn(tree, node.id, family);
  const wanted = Number(length || (family === 6 ? 64 : Math.min(32, node.space[4]!.length + 4)));
  const next = space?.next(wanted) ?? null;
  return (
    <Part title="Divided" aside={`${plural(node.children.length, 'block')} in it`}>
      {families.map((family) => {
        const fill = fillOf(tree, node, brief, ranges, family);
        return (
          fill && (
            <Typography key={family} sx={{ lineHeight: '20px' }}>
              IPv{family}: {percent(fill.taken, fill.of)} % given away
              {family === 4 && `, ${fill.of - fill.taken} of ${fill.of} addresses left`}
            </Typography>
          )
        );
      })}
      {space && (
        <>
          <Typography sx={{ lineHeight: '20px' }}>
            Largest free block: <span className="mono">{space.largest ? formatPrefix(space.largest) : 'none'}</span>
          </Typography>
          <Stack direction="row" spacing={0.75} sx={{ alignItems: 'center', mt: 0.5 }}>
            <span>Next free</span>
            <Box sx={{ width: 56 }}>
              <TextInput
                label="Length of the next free block"
                mono
                value={`/${wanted}`}
                strict
                check={(text) => (/^\/?\d{1,3}$/.test(text) ? null : 'A length.')}
                onCommit={(text) => /^\/?\d{1,3}$/.test(text) && setLength(text.replace('/', ''))}
              />
            </Box>
            {next ? (
              <Button size="small" onClick={() => onFree(node.id, next)} title="Put a block there" className="mono">
                {formatPrefix(next)}
              </Button>
            ) : (
              <span style={{ color: 'var(--ink2)' }}>none left</span>
            )}
          </Stack>
        </>
      )}
    </Part>
  );
}

/** What only subnets have: their use, their ends, their gateways. */
function SubnetRows({
  node,
  set,
}: {
  node: PlanNode;
  set: (change: { [K in keyof Block]?: Block[K] | null }) => void;
}) {
  const { brief } = usePlanSetting();
  const { block, space } = node;
  const { gateway } = schemesOf(brief);
  const gatewayProblem = (text: string): string | null => {
    const read = parseAddress(text.trim());
    return read.ok ? null : read.error.text;
  };
  return (
    <>
      <Row label="Used for" narrow>
        <Choice
          label="Used for"
          value={block.use ?? 'hosts'}
          options={BLOCK_USES.map((value) => ({ value, text: USE_WORDS[value] }))}
          onChange={(use) => set({ use: use === 'hosts' ? null : use })}
        />
      </Row>
      <Row label="Ends" narrow>
        <Choice
          label="First and last address"
          value={block.ends ?? 'auto'}
          options={[
            { value: 'auto', text: 'usable as the use has it' },
            { value: 'usable', text: 'both usable' },
            { value: 'kept', text: 'not usable' },
          ]}
          onChange={(ends) => set({ ends: ends === 'auto' ? null : ends })}
        />
      </Row>
      {space[4] && (
        <Row label="Gateway" narrow>
          <TextInput
            label="Gateway"
            mono
            value={block.gateway ?? ''}
            placeholder={`${formatAddress(schemeGateway(block, space[4], brief))} (${gateway})`}
            check={gatewayProblem}
            onCommit={(text) => set({ gateway: text.trim() || null })}
          />
        </Row>
      )}
      {space[6] && (
        <>
          <Row label="Gateway" narrow>
            <TextInput
              label="IPv6 gateway"
              mono
              value={block.gateway6 ?? ''}
              placeholder={formatAddress(schemeGateway(block, space[6], brief))}
              check={gatewayProblem}
              onCommit={(text) => set({ gateway6: text.trim() || null })}
            />
          </Row>
          <Row label="Hosts" narrow>
            <Choice
              label="IPv6 addresses of hosts"
              value={block.automatic === false ? 'no' : 'yes'}
              options={[
                { value: 'yes', text: 'make IPv6 addresses themselves' },
                { value: 'no', text: 'get IPv6 addresses by hand' },
              ]}
              onChange={(value) => set({ automatic: value === 'no' ? false : null })}
            />
          </Row>
        </>
      )}
      {block.vlan !== undefined && (
        <Row label="Colour" narrow>
          <Choice
            label="Colour"
            value={String(block.tone ?? '')}
            options={[
              { value: '', text: 'by the order of VLANs' },
              ...Array.from({ length: 8 }, (_, at) => ({ value: String(at + 1), text: `tone ${at + 1}` })),
            ]}
            onChange={(tone) => set({ tone: tone === '' ? null : Number(tone) })}
          />
        </Row>
      )}
    </>
  );
}
