import { Box, Button, Typography } from '@mui/material';
import { IconPlus } from '@tabler/icons-react';
import { plural } from '@sobrin/core';
import { type PlanTree, type SubnetNeed, isFor, isGivenOut } from '@sobrin/core/plan';
import { type ReactNode, memo } from 'react';

/** The groups of the brief, site by site, with the size that follows; each leads to its subnet. */
export const BriefNumbers = memo(function BriefNumbers({
  needs,
  tree,
  chosenGroup,
  showsResults,
  onShow,
  onPlan,
}: {
  needs: readonly SubnetNeed[];
  tree: PlanTree;
  chosenGroup: string | undefined;
  showsResults: boolean;
  onShow: (block: string) => void;
  /** Plans a subnet for a group that has none. */
  onPlan: (need: SubnetNeed) => void;
}) {
  const sites = [...new Set(needs.map((need) => need.site))];
  const nodes = [...tree.nodes.values()];
  const blockOf = (need: SubnetNeed): string | undefined =>
    nodes.find(({ block }) => isFor(block, need) && isGivenOut(block))?.id;
  const shown = needs.filter((need) => showsResults || need.group);
  return (
    <Box
      component="section"
      aria-label="Brief numbers"
      sx={{ height: '100%', display: 'flex', flexDirection: 'column' }}
    >
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1, px: 1.5, height: 36, flex: 'none', pt: 1 }}>
        <Typography variant="h2">Brief numbers</Typography>
        <Typography variant="body2" color="text.secondary" noWrap>
          {plural(shown.length, 'group')}
        </Typography>
      </Box>
      <Line head>
        <span>Group</span>
        <span style={{ textAlign: 'right' }}>Now</span>
        <span style={{ textAlign: 'right' }}>Later</span>
        <span style={{ textAlign: 'right' }}>{showsResults ? 'Needs' : ''}</span>
      </Line>
      <Box sx={{ flex: 1, minHeight: 0, overflow: 'auto' }}>
        {shown.length === 0 && (
          <Typography color="text.secondary" sx={{ p: 1.5 }}>
            The brief has no groups yet. Write there who needs addresses, and how many later; their sizes stand here.
          </Typography>
        )}
        {sites.map((site) => {
          const own = shown.filter((need) => need.site === site);
          return (
            own.length > 0 && (
              <Box key={site ?? ''}>
                <Box
                  sx={{
                    px: 1.5,
                    lineHeight: '24px',
                    fontSize: 12,
                    fontWeight: 700,
                    background: 'var(--sunk)',
                    borderBottom: '1px solid var(--line)',
                  }}
                >
                  {site ?? 'No site'}
                </Box>
                {own.map((need) => {
                  const block = blockOf(need);
                  const isChosen = need.group !== null && need.group.id === chosenGroup;
                  return (
                    <Line key={need.key} chosen={isChosen}>
                      {block !== undefined ? (
                        <Box
                          component="button"
                          type="button"
                          onClick={() => onShow(block)}
                          title={`${need.name}: show its subnet`}
                          sx={{
                            all: 'unset',
                            cursor: 'pointer',
                            overflow: 'hidden',
                            textOverflow: 'ellipsis',
                            whiteSpace: 'nowrap',
                            '&:focus-visible': { outline: '2px solid var(--spruce)' },
                          }}
                        >
                          {need.name}
                        </Box>
                      ) : need.group ? (
                        <Button
                          size="small"
                          onClick={() => onPlan(need)}
                          startIcon={<IconPlus size={13} />}
                          title={`Plan a subnet for ${need.name}`}
                          aria-label={`Plan a subnet for ${need.name}`}
                          sx={{
                            justifyContent: 'start',
                            px: 0,
                            py: 0,
                            minHeight: 24,
                            minWidth: 0,
                            overflow: 'hidden',
                            fontWeight: 400,
                            color: 'var(--ochre-text)',
                            '& .MuiButton-startIcon': { mr: '3px' },
                          }}
                        >
                          <span style={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>{need.name}</span>
                        </Button>
                      ) : (
                        <span style={{ color: 'var(--ink2)' }}>{need.name}</span>
                      )}
                      <span className="mono" style={{ textAlign: 'right', color: 'var(--ink2)' }}>
                        {need.group?.now ?? ''}
                      </span>
                      <span className="mono" style={{ textAlign: 'right' }}>
                        {need.group?.later ?? ''}
                      </span>
                      <span
                        className="mono"
                        style={{ textAlign: 'right', color: 'var(--ink2)' }}
                        title={need.later.words}
                      >
                        {showsResults ? `/${need.length}` : ''}
                      </span>
                    </Line>
                  );
                })}
              </Box>
            )
          );
        })}
      </Box>
    </Box>
  );
});

function Line({ children, head = false, chosen = false }: { children: ReactNode; head?: boolean; chosen?: boolean }) {
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr) 32px 40px 34px',
        gap: '6px',
        px: 1.5,
        minHeight: 27,
        alignItems: 'center',
        borderBottom: `1px solid var(--${head ? 'line2' : 'line'})`,
        background: chosen ? 'var(--spruce-tint)' : undefined,
        ...(head && { fontSize: 12, fontWeight: 650, color: 'var(--ink2)' }),
      }}
    >
      {children}
    </Box>
  );
}
