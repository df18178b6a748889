import { Box } from '@mui/material';
import { type Family } from '@sobrin/core/address';
import { type Probe } from '@sobrin/core/engine';
import { Choice, TextInput } from '../../ui/fields';

export interface ProbeOptions {
  family?: Family | undefined;
  probe?: Probe | undefined;
}
type Kind = 'icmp' | 'tcp' | 'udp';
const KINDS: { value: Kind; text: string }[] = [
  { value: 'icmp', text: 'ping' },
  { value: 'tcp', text: 'TCP to port' },
  { value: 'udp', text: 'UDP to port' },
];
const FAMILIES = [
  { value: 'any', text: 'any family' },
  { value: '4', text: 'IPv4' },
  { value: '6', text: 'IPv6' },
] as const;
/** The port that is asked for first: that of pages (RFC 9110). */
const FIRST_PORT = 80;

/** What is sent: an echo, or the first packet to a port, and to an address of which family. */
export function ProbeFields({
  options,
  onChange,
}: {
  options: ProbeOptions;
  onChange: (options: ProbeOptions) => void;
}) {
  const { family, probe = { protocol: 'icmp' } } = options;
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', flexWrap: 'wrap' }}>
      <Box sx={{ width: 118 }}>
        <Choice
          label="What is sent"
          value={probe.protocol}
          options={KINDS}
          onChange={(protocol) =>
            onChange({
              family,
              probe: protocol === 'icmp' ? { protocol } : { protocol, port: 'port' in probe ? probe.port : FIRST_PORT },
            })
          }
        />
      </Box>
      {'port' in probe && (
        <Box sx={{ width: 64 }}>
          <TextInput
            label="Port"
            mono
            strict
            value={String(probe.port)}
            check={(text) =>
              /^\d+$/.test(text) && Number(text) >= 1 && Number(text) <= 65_535 ? null : 'A port is from 1 to 65535.'
            }
            onCommit={(text) => onChange({ family, probe: { ...probe, port: Number(text) } })}
          />
        </Box>
      )}
      <Box sx={{ width: 104 }}>
        <Choice
          label="Family"
          value={family ? (String(family) as '4' | '6') : 'any'}
          options={FAMILIES}
          onChange={(value) => onChange({ probe, family: value === 'any' ? undefined : (Number(value) as Family) })}
        />
      </Box>
    </Box>
  );
}
