import { Box, IconButton } from '@mui/material';
import { IconChevronDown, IconChevronRight } from '@tabler/icons-react';
import { portInterface, setAddress } from '@sobrin/core/editing';
import { formatVlans } from '@sobrin/core/bench';
import { type Device, type PortConfig, type PortFacts } from '@sobrin/core/topology';
import { TextInput } from '../../ui/fields';
import { type LinkFact } from '../../workers/facts';
import { useBench } from '../use-bench';
import { ChipSign } from './chip-sign';
import { interfaceAddressProblem } from './checks';
import { PortFields, isAddressed } from './port-fields';

interface PortRowProps {
  id: string;
  device: Device;
  port: PortFacts;
  peer: string | null;
  fact: LinkFact | undefined;
  /** Addresses that the plan has for the device. */
  offers: readonly string[];
  open: boolean;
  onToggle: () => void;
}

/** How a port bears VLANs, where that is set: "VLAN 20", "VLAN 20, voice 50", "tagged 10, 20". */
function vlanWords({ role }: PortConfig): string {
  if (role?.kind !== 'switched') return '';
  const { mode, accessVlan, voiceVlan, allowed } = role;
  if (mode === 'trunk') return `tagged ${formatVlans(allowed ?? 'all')}`;
  return [accessVlan === undefined ? '' : `VLAN ${accessVlan}`, voiceVlan === undefined ? '' : `voice ${voiceVlan}`]
    .filter(Boolean)
    .join(', ');
}

/** One line a port: how its link is, where it goes or what its address is, and its settings when it is opened. */
export function PortRow({ id, device, port, peer, fact, offers, open, onToggle }: PortRowProps) {
  const { document: topology, do: run } = useBench((state) => state);
  const config = device.ports?.[port.key] ?? {};
  const [, interfaceConfig] = portInterface(device, port.key);
  const addressed = isAddressed(topology, device, port);
  const Arrow = open ? IconChevronDown : IconChevronRight;
  return (
    <Box sx={{ py: '1px' }}>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: '12px 58px minmax(0, 1fr) 24px',
          gap: '6px',
          // What is wrong with an address stands beneath it: the rest of the line stays where it is.
          alignItems: 'start',
          lineHeight: '28px',
          minHeight: 30,
          '& > svg': { mt: '8px' },
          '& > button': { height: 28 },
        }}
      >
        <ChipSign fact={fact} connected={peer !== null} />
        <span
          className="mono"
          style={{ fontSize: 12.5, overflow: 'hidden', textOverflow: 'ellipsis' }}
          title={config.label && config.label !== port.key ? `labelled ${config.label}` : port.key}
        >
          {port.key}
        </span>
        {addressed ? (
          <TextInput
            label={`Address of ${port.key}`}
            mono
            placeholder={interfaceConfig.v4?.dhcp ? 'automatic' : 'address/prefix'}
            value={interfaceConfig.v4?.addresses?.[0] ?? ''}
            check={interfaceAddressProblem}
            maxLength={64}
            suggestions={offers.filter((offer) => !offer.includes(':'))}
            onCommit={(text) =>
              run('set an address', setAddress(topology, id, port.key, text.includes(':') ? 6 : 4, text))
            }
          />
        ) : (
          <Box sx={{ display: 'flex', gap: 1, minWidth: 0, color: 'var(--ink2)', whiteSpace: 'nowrap' }}>
            <span style={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis' }}>{peer ?? 'free'}</span>
            <span style={{ fontSize: 12 }}>{vlanWords(config)}</span>
          </Box>
        )}
        <IconButton
          size="small"
          aria-label={`Settings of ${port.key}`}
          aria-expanded={open}
          onClick={onToggle}
          sx={{ p: 0 }}
        >
          <Arrow size={16} />
        </IconButton>
      </Box>
      {addressed && peer && (
        <Box sx={{ pl: '82px', color: 'var(--ink3)', fontSize: 12, lineHeight: '14px', pb: '2px' }}>to {peer}</Box>
      )}
      {fact && (fact.state !== 'up' || fact.warning) && (
        <Box
          sx={{
            ml: '18px',
            pl: 1,
            borderLeft: `2px solid var(--${fact.state === 'crossed' ? 'brick' : 'ochre-text'})`,
            color: 'var(--ink2)',
            fontSize: 12,
            lineHeight: '16px',
            mb: 0.5,
          }}
        >
          {fact.text}
        </Box>
      )}
      {open && <PortFields id={id} device={device} port={port} offers={offers} />}
    </Box>
  );
}
