import { Box } from '@mui/material';
import { type Family } from '@sobrin/core/address';
import { type GridRequest, type Probe, signInProbe } from '@sobrin/core/engine';
import { Choice, TextInput } from '../../ui/fields';

export interface ProbeOptions {
  family?: Family | undefined;
  probe?: Probe | undefined;
  /** Whether one can sign in there, instead of whether packets arrive; `probe` is then what that begins with. */
  signIn?: GridRequest['signIn'];
}
type Kind = 'icmp' | 'tcp' | 'udp' | 'ssh' | 'telnet';
const KINDS: { value: Kind; text: string }[] = [
  { value: 'icmp', text: 'ping' },
  { value: 'tcp', text: 'TCP to port' },
  { value: 'udp', text: 'UDP to port' },
];
const SIGNING_IN: typeof KINDS = [
  { value: 'ssh', text: 'sign in by ssh' },
  { value: 'telnet', text: 'sign in by telnet' },
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
  asksSignIn = false,
  onChange,
}: {
  options: ProbeOptions;
  /** Whether one may also ask who can sign in. */
  asksSignIn?: boolean;
  onChange: (options: ProbeOptions) => void;
}) {
  const { family, probe = { protocol: 'icmp' }, signIn } = options;
  const send = (kind: Kind): ProbeOptions => {
    if (kind === 'ssh' || kind === 'telnet')
      return { family, probe: signInProbe(kind), signIn: { by: kind, changing: signIn?.changing ?? false } };
    if (kind === 'icmp') return { family, probe: { protocol: kind } };
    return { family, probe: { protocol: kind, port: 'port' in probe && !signIn ? probe.port : FIRST_PORT } };
  };
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', flexWrap: 'wrap' }}>
      <Box sx={{ width: asksSignIn ? 150 : 118 }}>
        <Choice
          label="What is sent"
          value={signIn?.by ?? probe.protocol}
          options={asksSignIn ? [...KINDS, ...SIGNING_IN] : KINDS}
          onChange={(kind) => onChange(send(kind))}
        />
      </Box>
      {signIn && (
        <Box sx={{ width: 150 }}>
          <Choice
            label="What for"
            value={signIn.changing ? 'change' : 'look'}
            options={[
              { value: 'look', text: 'to look' },
              { value: 'change', text: 'to change settings' },
            ]}
            onChange={(value) => onChange({ ...options, signIn: { ...signIn, changing: value === 'change' } })}
          />
        </Box>
      )}
      {'port' in probe && !signIn && (
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
          onChange={(value) =>
            onChange({ ...options, family: value === 'any' ? undefined : (Number(value) as Family) })
          }
        />
      </Box>
    </Box>
  );
}
