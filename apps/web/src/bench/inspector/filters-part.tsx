import { arrayMove, useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Box, IconButton } from '@mui/material';
import { IconGripVertical, IconX } from '@tabler/icons-react';
import { plural } from '@sobrin/core';
import { formatMatcher, formatPorts, parseMatcher, parsePorts } from '@sobrin/core/bench';
import { countUp } from '@sobrin/core/editing';
import { type Device, type Filter, type FilterRule, entriesById } from '@sobrin/core/topology';
import { AddButton } from '../../ui/add-button';
import { Choice, TextInput } from '../../ui/fields';
import { Fold } from '../../ui/sections';
import { SortableList } from '../../ui/sortable-list';
import { checkBy } from './checks';
import { useSettings } from './use-settings';

const BLANK: FilterRule = { action: 'permit', proto: 'ip', src: { kind: 'any' }, dst: { kind: 'any' } };

/** Filters: ordered lists whose first fitting rule decides; what no rule fits is denied. Each rule can be switched off for a moment. */
export function FiltersPart({ id, device }: { id: string; device: Device }) {
  const { settings, set } = useSettings(id, device);
  const filters = entriesById(settings.filters);
  const store = (key: string, filter: Filter | null, as = key): void => {
    const { [key]: _old, ...others } = settings.filters ?? {};
    set('change a filter', { filters: filter ? { ...others, [as]: filter } : others });
  };
  const add = (family: 4 | 6): void =>
    store(countUp('filter-0', new Set(filters.map(([key]) => key))), { family, rules: [BLANK] });
  return (
    <Fold title="Filters" aside={filters.length || 'none'} startOpen={filters.length > 0}>
      {filters.map(([key, filter]) => (
        <FilterFields
          key={key}
          name={key}
          filter={filter}
          onChange={(next) => store(key, next)}
          onRemove={() => store(key, null)}
        />
      ))}
      <AddButton size="small" onAdd={() => add(4)}>
        Add a filter
      </AddButton>
      <AddButton size="small" onAdd={() => add(6)}>
        Add one for IPv6
      </AddButton>
    </Fold>
  );
}

function FilterFields({
  name,
  filter,
  onChange,
  onRemove,
}: {
  name: string;
  filter: Filter;
  onChange: (filter: Filter) => void;
  onRemove: () => void;
}) {
  const { rules } = filter;
  const ids = rules.map((_one, at) => `${name} rule ${at + 1}`);
  const setRules = (next: FilterRule[]): void => onChange({ ...filter, rules: next });
  return (
    <Box role="group" aria-label={`Filter ${name}`} sx={{ mb: 1 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <b className="mono" style={{ flex: 1 }}>
          {name}
        </b>
        <span style={{ color: 'var(--ink2)', fontSize: 12 }}>
          IPv{filter.family}, {plural(rules.length, 'rule')}
        </span>
        <IconButton size="small" aria-label={`Remove ${name}`} onClick={onRemove} sx={{ p: 0.25 }}>
          <IconX size={14} />
        </IconButton>
      </Box>
      <SortableList ids={ids} nameOf={(id) => id} onMove={(from, to) => setRules(arrayMove(rules, from, to))}>
        {rules.map((rule, at) => (
          <RuleLine
            key={at}
            name={ids[at]!}
            rule={rule}
            onChange={(next) => setRules(rules.map((rule, index) => (index === at ? next : rule)))}
            onRemove={() => setRules(rules.filter((_one, index) => index !== at))}
          />
        ))}
      </SortableList>
      <Box sx={{ color: 'var(--ink3)', fontSize: 12, pl: 3 }}>everything else: denied</Box>
      <AddButton size="small" onAdd={() => setRules([...rules, BLANK])}>
        Add a rule
      </AddButton>
    </Box>
  );
}

function RuleLine({
  name,
  rule,
  onChange,
  onRemove,
}: {
  /** Also its id in the list. */
  name: string;
  rule: FilterRule;
  onChange: (rule: FilterRule) => void;
  onRemove: () => void;
}) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({ id: name });
  const put = (change: { [K in keyof FilterRule]?: FilterRule[K] | undefined }): void =>
    onChange(
      Object.fromEntries(
        Object.entries({ ...rule, ...change }).filter(([, setting]) => setting !== undefined),
      ) as FilterRule,
    );
  const off = rule.enabled === false;
  const ports = rule.proto === 'tcp' || rule.proto === 'udp';
  const matcher = (key: 'src' | 'dst', label: string) => (
    <Box sx={{ gridColumn: '2 / 6', display: 'flex', alignItems: 'start', gap: '6px' }}>
      <Box component="span" aria-hidden sx={{ width: 30, pt: '5px', fontSize: 12, color: 'var(--ink2)' }}>
        {label}
      </Box>
      <TextInput
        label={`${name}: ${label}`}
        mono
        strict
        value={formatMatcher(rule[key])}
        check={checkBy(parseMatcher)}
        onCommit={(text) => {
          const read = parseMatcher(text);
          if (read.ok) put({ [key]: read.value });
        }}
      />
    </Box>
  );
  return (
    <Box
      ref={setNodeRef}
      role="group"
      aria-label={name}
      style={{ transform: CSS.Transform.toString(transform), transition }}
      sx={{
        display: 'grid',
        gridTemplateColumns: '16px minmax(0, 1fr) minmax(0, 1fr) 54px 22px',
        gap: '3px 4px',
        alignItems: 'start',
        py: '3px',
        background: 'var(--surface)',
        opacity: off ? 0.6 : 1,
      }}
    >
      <IconButton
        ref={setActivatorNodeRef}
        {...attributes}
        {...listeners}
        data-sort-handle
        size="small"
        aria-label={`Move ${name}`}
        sx={{ p: 0, height: 28, cursor: 'grab', borderRadius: '4px' }}
      >
        <IconGripVertical size={14} />
      </IconButton>
      <Choice
        label={`${name}: decision`}
        value={rule.action}
        options={[
          { value: 'permit', text: 'permit' },
          { value: 'deny', text: 'deny' },
        ]}
        onChange={(action) => put({ action })}
      />
      <Choice
        label={`${name}: protocol`}
        value={rule.proto}
        options={[
          { value: 'ip', text: 'IP' },
          { value: 'tcp', text: 'TCP' },
          { value: 'udp', text: 'UDP' },
          { value: 'icmp', text: 'ICMP' },
        ]}
        onChange={(proto) => put({ proto, ...(proto !== 'tcp' && { established: undefined }) })}
      />
      <Choice
        label={`${name} is`}
        value={off ? 'off' : 'on'}
        options={[
          { value: 'on', text: 'on' },
          { value: 'off', text: 'off' },
        ]}
        onChange={(value) => put({ enabled: value === 'off' ? false : undefined })}
      />
      <IconButton size="small" aria-label={`Remove ${name}`} onClick={onRemove} sx={{ p: 0, height: 28 }}>
        <IconX size={14} />
      </IconButton>
      {matcher('src', 'from')}
      {matcher('dst', 'to')}
      {ports && (
        <Box sx={{ gridColumn: '2 / 6', display: 'flex', alignItems: 'start', gap: '6px' }}>
          <Box component="span" aria-hidden sx={{ width: 30, pt: '5px', fontSize: 12, color: 'var(--ink2)' }}>
            port
          </Box>
          <TextInput
            label={`${name}: port`}
            mono
            strict
            placeholder="port"
            value={formatPorts(rule.dstPorts)}
            check={checkBy(parsePorts)}
            onCommit={(text) => {
              const read = parsePorts(text);
              if (read.ok) put({ dstPorts: read.value ?? undefined });
            }}
          />
        </Box>
      )}
    </Box>
  );
}
