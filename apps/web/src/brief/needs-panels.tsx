import { Box, Checkbox, FormControlLabel, IconButton, Tooltip, Typography } from '@mui/material';
import { IconX } from '@tabler/icons-react';
import { parseAddress, parsePrefix } from '@sobrin/core/address';
import {
  type Brief,
  type Separation,
  nameByScheme,
  ratiosOf,
  rulesOf,
  schemesOf,
  separationWords,
} from '@sobrin/core/plan';
import { patternOf } from '@sobrin/core/editing';
import { type ReactNode } from 'react';
import { newShortId } from '../api/new-id';
import { AddButton } from '../ui/add-button';
import { Choice, Row, TextInput } from '../ui/fields';
import { Panel } from '../ui/panel';

type SetBrief = (change: { [K in keyof Brief]?: Brief[K] | undefined }) => void;
interface Props {
  brief: Brief;
  setBrief: SetBrief;
}

export const Pad = ({ children }: { children: ReactNode }) => <Box sx={{ px: 2, py: 1.5 }}>{children}</Box>;

function Lined({
  columns,
  children,
  onRemove,
  what,
}: {
  columns: string;
  children: ReactNode;
  onRemove: () => void;
  what: string;
}) {
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: `${columns} 28px`, gap: 0.75, alignItems: 'start', py: '2px' }}>
      {children}
      <Tooltip title="Remove">
        <IconButton size="small" aria-label={`Remove ${what}`} onClick={onRemove}>
          <IconX size={15} />
        </IconButton>
      </Tooltip>
    </Box>
  );
}

export function SitesPanel({ brief, setBrief }: Props) {
  const sites = brief.sites ?? [];
  const rename = (from: string, to: string): void => {
    // The groups that are there go along with the name.
    const groups = brief.groups?.map((group) => (group.site === from ? { ...group, site: to } : group));
    setBrief({
      sites: sites.map((site) => (site.name === from ? { ...site, name: to } : site)),
      ...(groups && { groups }),
    });
  };
  return (
    <Panel title="Sites" aside="and where they are">
      <Pad>
        {sites.map((site, at) => (
          <Lined
            key={at}
            columns="minmax(0, 1fr) minmax(0, 1.4fr)"
            what={site.name}
            onRemove={() => setBrief({ sites: sites.filter((each) => each !== site) })}
          >
            <div>
              <TextInput
                label={`Site ${at + 1}`}
                value={site.name}
                maxLength={80}
                onCommit={(name) => name.trim() && rename(site.name, name.trim())}
              />
            </div>
            <div>
              <TextInput
                label={`Place of ${site.name}`}
                placeholder="where it is"
                value={site.place ?? ''}
                onCommit={(place) =>
                  setBrief({
                    sites: sites.map((each) =>
                      each === site ? { name: site.name, ...(place.trim() && { place: place.trim() }) } : each,
                    ),
                  })
                }
              />
            </div>
          </Lined>
        ))}
        <AddButton onAdd={() => setBrief({ sites: [...sites, { name: `Site ${sites.length + 1}` }] })}>
          Add a site
        </AddButton>
      </Pad>
    </Panel>
  );
}

export function SeparationsPanel({ brief, setBrief }: Props) {
  const separations = brief.separations ?? [];
  const groups = (brief.groups ?? []).map((group) => ({ value: group.id, text: group.name }));
  const set = (id: string, next: Separation): void =>
    setBrief({ separations: separations.map((separation) => (separation.id === id ? next : separation)) });
  return (
    <Panel title="Kept apart" aside="who reaches what not">
      <Pad>
        {separations.map((separation) => (
          <Lined
            key={separation.id}
            columns="minmax(0, 1fr) minmax(0, 1fr) minmax(0, 1.2fr)"
            what={separationWords(separation, brief) || 'the line'}
            onRemove={() => setBrief({ separations: separations.filter((each) => each.id !== separation.id) })}
          >
            <Choice
              label="Who is kept apart"
              value={separation.who ?? ''}
              options={[{ value: '', text: separation.who === undefined ? '(as written)' : '…' }, ...groups]}
              onChange={(who) =>
                set(
                  separation.id,
                  who
                    ? { ...separation, who, from: separation.from ?? '@inside' }
                    : { id: separation.id, text: separation.text ?? '' },
                )
              }
            />
            <Choice
              label="From what"
              value={separation.from ?? ''}
              disabled={separation.who === undefined}
              options={[
                ...(separation.from === undefined ? [{ value: '', text: '' }] : []),
                { value: '@inside', text: 'reach nothing inside' },
                { value: '@outside', text: 'reach nothing outside' },
                { value: '@others', text: 'reach no other group' },
                ...groups
                  .filter((each) => each.value !== separation.who)
                  .map((each) => ({ value: each.value, text: `do not reach ${each.text}` })),
              ]}
              onChange={(from) => set(separation.id, { ...separation, from })}
            />
            <div>
              <TextInput
                label="But, or in words"
                placeholder="but …"
                value={separation.text ?? ''}
                onCommit={(text) => {
                  const { text: _old, ...rest } = separation;
                  set(separation.id, text.trim() ? { ...rest, text: text.trim() } : rest);
                }}
              />
            </div>
          </Lined>
        ))}
        {!groups.length && (
          <Typography variant="body2" color="text.secondary">
            Groups can be kept apart as soon as there are some.
          </Typography>
        )}
        <AddButton
          disabled={!groups.length}
          onAdd={() =>
            setBrief({
              separations: [...separations, { id: newShortId('s'), who: groups.at(-1)!.value, from: '@inside' }],
            })
          }
        >
          Keep a group apart
        </AddButton>
      </Pad>
    </Panel>
  );
}

const rangeProblem = (text: string): string | null => {
  const read = parsePrefix(text.trim());
  return read.ok || parseAddress(text.trim()).ok ? null : read.error.text;
};

export function OutsidePanel({ brief, setBrief }: Props) {
  const outside = brief.outside ?? [];
  const rules = rulesOf(brief);
  const rule = (property: keyof typeof rules, label: string) => (
    <FormControlLabel
      control={
        <Checkbox
          size="small"
          checked={rules[property]}
          onChange={(_event, on) => setBrief({ rules: { ...brief.rules, [property]: on } })}
        />
      }
      label={label}
      sx={{ display: 'flex' }}
    />
  );
  return (
    <Panel title="Outside ranges and rules">
      <Pad>
        <Typography variant="body2" color="text.secondary" sx={{ mb: 0.5 }}>
          What the provider hands out; one range a line.
        </Typography>
        {[...outside, ''].map((text, at) => (
          <Box key={at < outside.length ? at : 'new'} sx={{ py: '2px', maxWidth: 280 }}>
            <TextInput
              label={at < outside.length ? `Outside range ${at + 1}` : 'Add an outside range'}
              mono
              maxLength={64}
              placeholder={at < outside.length ? '' : '198.51.100.0/24'}
              value={text}
              check={rangeProblem}
              onCommit={(next) =>
                setBrief({ outside: [...outside.slice(0, at), next.trim(), ...outside.slice(at + 1)].filter(Boolean) })
              }
            />
          </Box>
        ))}
        {rule('privateOnly', 'Inside, private addresses only')}
        {rule('notOutside', 'No inside range overlaps the provider’s')}
        {rule('otherPrivate', 'Another private range than the provider’s')}
      </Pad>
    </Panel>
  );
}

export function SchemesPanel({ brief, setBrief }: Props) {
  const schemes = brief.schemes ?? {};
  const { gateway, infrastructure, pool, management } = schemesOf(brief);
  const set = (change: { [K in keyof typeof schemes]?: (typeof schemes)[K] | undefined }): void =>
    setBrief({
      schemes: Object.fromEntries(
        Object.entries({ ...schemes, ...change }).filter(([, value]) => value !== undefined && value !== ''),
      ),
    });
  const [site] = brief.sites ?? [];
  const [group] = brief.groups ?? [];
  const example = (kind: string, n: number): string =>
    nameByScheme(schemes.names ?? '', { kind, site: site?.name ?? 'Valley', group: group?.name ?? 'Desks', n });
  return (
    <Panel title="Naming and address schemes">
      <Pad>
        <Row label="Names">
          <TextInput
            label="Naming scheme"
            placeholder="{kind}-{site}{n}"
            value={schemes.names ?? ''}
            onCommit={(names) => set({ names: names.trim() || undefined })}
          />
          <Typography variant="body2" color="text.secondary" sx={{ lineHeight: '18px', pt: '2px' }}>
            {patternOf(schemes.names) !== undefined ? (
              <>
                For instance <b className="mono">{example('RT', 1)}</b>, <b className="mono">{example('SW', 2)}</b>
              </>
            ) : schemes.names ? (
              'Sentences are for people: new devices are called RT-1, SW-1, …'
            ) : (
              '{kind} RT, SW, …; {site} first letter of the site; {group}; {n} 1, 2, …; {nn} 01, 02, …'
            )}
          </Typography>
        </Row>
        <Row label="Addresses">
          <TextInput
            label="Address scheme in words"
            placeholder="The router has the first usable address."
            value={schemes.addresses ?? ''}
            onCommit={(addresses) => set({ addresses: addresses.trim() || undefined })}
          />
        </Row>
        <Row label="Gateway">
          <Choice
            label="Gateway"
            value={gateway}
            options={[
              { value: 'first', text: 'the first usable address' },
              { value: 'last', text: 'the last usable address' },
            ]}
            onChange={(value) => set({ gateway: value === 'first' ? undefined : value })}
          />
        </Row>
        <Row label="Equipment">
          <TextInput
            label="Addresses kept for equipment"
            mono
            value={String(infrastructure)}
            strict
            check={(text) => (/^\d{1,2}$/.test(text) && Number(text) <= 64 ? null : 'A number from 0 to 64.')}
            onCommit={(text) =>
              /^\d{1,2}$/.test(text) && Number(text) <= 64 && set({ infrastructure: Number(text) || undefined })
            }
          />
        </Row>
        <Row label="Routers">
          <Choice
            label="Routers of a subnet"
            value={schemes.virtualRouter ? 'two' : 'one'}
            options={[
              { value: 'one', text: 'one, with the gateway’s address' },
              { value: 'two', text: 'two, which share the gateway’s: three addresses' },
            ]}
            onChange={(value) => set({ virtualRouter: value === 'two' ? true : undefined })}
          />
        </Row>
        <Row label="Switches">
          <Choice
            label="Addresses of switches"
            value={management ? 'here' : 'elsewhere'}
            options={[
              { value: 'elsewhere', text: 'in a subnet of their own, or none' },
              { value: 'here', text: 'in the subnet of their group' },
            ]}
            onChange={(value) => set({ management: value === 'here' ? true : undefined })}
          />
        </Row>
        <Row label="Pool">
          <Choice
            label="DHCP pool"
            value={pool}
            options={[
              { value: 'none', text: 'none set aside' },
              { value: 'half', text: 'the half away from the gateway' },
              { value: 'rest', text: 'all that is left' },
            ]}
            onChange={(value) => set({ pool: value === 'none' ? undefined : value })}
          />
        </Row>
        <Typography variant="body2" color="text.secondary" sx={{ lineHeight: '18px', pt: 0.5 }}>
          In <span className="mono">10.84.1.0/26</span>: {schemeExample(gateway, infrastructure, pool)}
        </Typography>
      </Pad>
    </Panel>
  );
}

/** The scheme at work in one subnet of 62 usable addresses. */
function schemeExample(gateway: 'first' | 'last', equipment: number, pool: 'none' | 'half' | 'rest'): string {
  const at = (n: number): string => `10.84.1.${n}`;
  let [from, to] = gateway === 'first' ? [2, 62] : [1, 61];
  const parts = [`gateway ${at(gateway === 'first' ? 1 : 62)}`];
  if (equipment > 0 && equipment < 61) {
    const [low, high] = gateway === 'first' ? [from, from + equipment - 1] : [to - equipment + 1, to];
    parts.push(`equipment ${low === high ? at(low) : `${at(low)}-${high}`}`);
    if (gateway === 'first') from = high + 1;
    else to = low - 1;
  }
  if (pool !== 'none' && from <= to)
    parts.push(`leases ${at(pool === 'rest' ? from : from + Math.floor((to - from + 2) / 2))}-${to}`);
  return `${parts.join(', ')}.`;
}

export function RatiosPanel({ brief, setBrief }: Props) {
  const ratios = ratiosOf(brief);
  const field = (property: keyof typeof ratios, label: string, words: string) => (
    <Row label={words} key={property}>
      <TextInput
        label={label}
        mono
        value={String(ratios[property])}
        strict
        check={(text) => (/^[1-9]\d{0,5}$/.test(text) ? null : 'A whole number above 0.')}
        onCommit={(text) =>
          /^[1-9]\d{0,5}$/.test(text) && setBrief({ ratios: { ...brief.ratios, [property]: Number(text) } })
        }
      />
    </Row>
  );
  return (
    <Panel title="Ratios">
      <Pad>
        {field('perAccessPoint', 'People an access point', 'People / AP')}
        {field('oversubscription', 'Oversubscription of uplinks', 'Uplinks 1 :')}
        {field('hostMbps', 'Speed of a host in Mb/s', 'Host Mb/s')}
      </Pad>
    </Panel>
  );
}
