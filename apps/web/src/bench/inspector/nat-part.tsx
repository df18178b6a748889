import { type Device, type Settings, portsOf } from '@sobrin/core/topology';
import { Box, IconButton } from '@mui/material';
import { IconX } from '@tabler/icons-react';
import { AddButton } from '../../ui/add-button';
import { Choice, Row, TextInput } from '../../ui/fields';
import { Fold } from '../../ui/sections';
import { addressProblem, prefixProblem } from './checks';
import { useBench } from '../use-bench';
import { useSettings } from './use-settings';

type NatRule = NonNullable<Settings['nat']>[number];
const KINDS = [
  { value: 'overload', text: 'port translation, many to one' },
  { value: 'static', text: 'one for one' },
  { value: 'portForward', text: 'a port let in' },
  { value: 'pool', text: 'from a pool' },
] as const;
const portProblem = (text: string): string | null =>
  /^[1-9]\d{0,4}$/.test(text) && Number(text) <= 65535 ? null : 'A port is a number from 1 to 65535.';

/** Address translation, rule by rule in the order in which they are tried. */
export function NatPart({ id, device }: { id: string; device: Device }) {
  const { settings, set } = useSettings(id, device);
  const rules = settings.nat ?? [];
  const topology = useBench((state) => state.document);
  const interfaces = [
    ...new Set([...Object.keys(device.interfaces ?? {}), ...portsOf(topology, device).map(({ key }) => key)]),
  ];
  const filters = Object.keys(settings.filters ?? {});
  const store = (nat: NatRule[]): void => set('change address translation', { nat });
  return (
    <Fold title="Address translation" aside={rules.length || 'none'} startOpen={rules.length > 0}>
      {rules.map((rule, at) => (
        <RuleFields
          key={at}
          nth={at + 1}
          rule={rule}
          interfaces={interfaces}
          filters={filters}
          onChange={(next) => store(rules.map((rule, index) => (index === at ? next : rule)))}
          onRemove={() => store(rules.filter((_one, index) => index !== at))}
        />
      ))}
      <AddButton size="small" onAdd={() => store([...rules, { kind: 'overload' }])}>
        Add a rule
      </AddButton>
    </Fold>
  );
}

function RuleFields({
  nth,
  rule,
  interfaces,
  filters,
  onChange,
  onRemove,
}: {
  nth: number;
  rule: NatRule;
  /** What interfaces and filters of the device are called. */
  interfaces: readonly string[];
  filters: readonly string[];
  onChange: (rule: NatRule) => void;
  onRemove: () => void;
}) {
  const put = (change: { [K in keyof NatRule]?: NatRule[K] | undefined }): void =>
    onChange(
      Object.fromEntries(Object.entries({ ...rule, ...change }).filter(([, value]) => value !== undefined)) as NatRule,
    );
  const field = (label: string, key: 'inside' | 'outside', check: (text: string) => string | null) => (
    <Row label={label}>
      <TextInput
        label={`Translation ${nth}: ${label}`}
        mono
        value={rule[key] ?? ''}
        check={check}
        onCommit={(text) => put({ [key]: text || undefined })}
      />
    </Row>
  );
  const port = (label: string, key: 'insidePort' | 'outsidePort') => (
    <Row label={label}>
      <TextInput
        label={`Translation ${nth}: ${label}`}
        mono
        strict
        value={rule[key] === undefined ? '' : String(rule[key])}
        check={portProblem}
        onCommit={(text) => put({ [key]: text ? Number(text) : undefined })}
      />
    </Row>
  );
  const dynamic = rule.kind === 'overload' || rule.kind === 'pool';
  return (
    <Box
      role="group"
      aria-label={`Translation ${nth}`}
      sx={{ borderBottom: '1px solid var(--line)', pb: 0.5, mb: 0.5 }}
    >
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 24px', gap: '4px' }}>
        <Choice
          label={`Translation ${nth}: kind`}
          value={rule.kind}
          options={KINDS}
          onChange={(kind) => onChange({ kind })}
        />
        <IconButton size="small" aria-label={`Remove translation ${nth}`} onClick={onRemove} sx={{ p: 0 }}>
          <IconX size={14} />
        </IconButton>
      </Box>
      {dynamic && (
        <Row label="Of" narrow>
          <TextInput
            label={`Translation ${nth}: of`}
            mono
            placeholder="prefix or filter"
            suggestions={filters}
            check={(text) => {
              const wrong = text
                .split(/[,\s]+/)
                .find((part) => part && !filters.includes(part) && prefixProblem(part) !== null);
              return wrong === undefined ? null : `“${wrong}” is neither a prefix nor a filter of this device.`;
            }}
            value={(rule.sources ?? []).join(', ')}
            onCommit={(text) => {
              const sources = text.split(/[,\s]+/).filter(Boolean);
              put({ sources: sources.length ? sources : undefined });
            }}
          />
        </Row>
      )}
      {rule.kind === 'overload' && (
        <Row label="Leaving by">
          <TextInput
            label={`Translation ${nth}: leaving by`}
            mono
            placeholder="interface"
            suggestions={interfaces}
            check={(text) => (interfaces.includes(text) ? null : `There is no interface “${text}” here.`)}
            value={rule.outsideInterface ?? ''}
            onCommit={(text) => put({ outsideInterface: text || undefined })}
          />
        </Row>
      )}
      {rule.kind === 'pool' && (
        <Row label="To">
          <TextInput
            label={`Translation ${nth}: to`}
            mono
            placeholder="from - to"
            value={rule.pool ? `${rule.pool.from} - ${rule.pool.to}` : ''}
            onCommit={(text) => {
              const [from = '', to = from] = text.split(/\s*-\s*/);
              put({ pool: from ? { from, to } : undefined });
            }}
          />
        </Row>
      )}
      {!dynamic && field('inside', 'inside', addressProblem)}
      {!dynamic && field('outside', 'outside', addressProblem)}
      {rule.kind === 'portForward' && (
        <>
          <Row label="Protocol">
            <Choice
              label={`Translation ${nth}: protocol`}
              value={rule.proto ?? 'tcp'}
              options={[
                { value: 'tcp', text: 'TCP' },
                { value: 'udp', text: 'UDP' },
              ]}
              onChange={(proto) => put({ proto })}
            />
          </Row>
          {port('inside port', 'insidePort')}
          {port('outside port', 'outsidePort')}
        </>
      )}
      {dynamic && rule.sources?.some((source) => source.includes('/') && prefixProblem(source)) && (
        <span style={{ color: 'var(--brick)', fontSize: 12 }}>
          {rule.sources.map((source) => (source.includes('/') ? prefixProblem(source) : null)).find(Boolean)}
        </span>
      )}
    </Box>
  );
}
