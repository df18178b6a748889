import { Box } from '@mui/material';
import { type BitLine } from '@sobrin/core/address';

/** Lines of bits under each other; behind the network bits stands a line, and the host bits are on ochre. */
export function BitLines({ lines, small = false }: { lines: readonly BitLine[]; small?: boolean }) {
  return (
    <Box className="mono" sx={{ fontSize: small ? 10.5 : 12, lineHeight: small ? '16px' : '20px', overflowX: 'auto' }}>
      {lines.map((line) => (
        <Box
          key={line.name + line.text}
          sx={{ display: 'flex', gap: small ? '5px' : '8px', whiteSpace: 'pre' }}
          role="img"
          aria-label={`${line.name || 'bits'}: ${line.groups.join(' ')}`}
        >
          {line.groups.map((group, at) => {
            const cut = Math.min(group.length, Math.max(0, line.network - at * group.length));
            return (
              <span key={at} aria-hidden>
                {group.slice(0, cut)}
                <Box
                  component="span"
                  sx={{
                    background: 'var(--ochre-tint)',
                    color: 'var(--ochre-text)',
                    fontWeight: 700,
                    ...(cut > 0 && cut < group.length && { borderLeft: '1.5px solid var(--ochre-text)' }),
                  }}
                >
                  {group.slice(cut)}
                </Box>
              </span>
            );
          })}
          {!small && <span style={{ color: 'var(--ink2)' }}>{line.name}</span>}
        </Box>
      ))}
    </Box>
  );
}
