import { Box, Tooltip } from '@mui/material';
import { type LabView } from '@sobrin/contracts';
import {
  IconChartHistogram,
  IconChecklist,
  IconFileText,
  IconListDetails,
  IconTools,
  IconUsers,
} from '@tabler/icons-react';
import { type ComponentType } from 'react';
import { Link, NavLink } from 'react-router';
import { Mark } from '../ui/mark';
import { PersonMenu } from '../ui/person-menu';
import { IF_SMALL } from '../ui/frame';

export type StationState = { kind: 'empty' | 'begun' | 'ready' } | { kind: 'problems'; count: number };
const WORDS = { empty: 'empty', begun: 'begun', ready: 'ready' } as const;

interface Station {
  path: string;
  name: string;
  icon: ComponentType<{ size: number }>;
  state: StationState;
}

/** How far each station is, from what the lab holds. */
export function stationsOf(lab: LabView): Station[] {
  const { brief, tasks, plan, spec } = lab;
  const requirements = spec.sections.reduce((sum, section) => sum + section.requirements.length, 0);
  const state = (begun: boolean, ready: boolean): StationState => ({
    kind: ready ? 'ready' : begun ? 'begun' : 'empty',
  });
  return [
    {
      path: 'brief',
      name: 'Brief',
      icon: IconFileText,
      state: state(Boolean(brief.scenario) || tasks.length > 0, Boolean(brief.scenario) && tasks.length > 0),
    },
    {
      path: 'plan',
      name: 'Plan',
      icon: IconListDetails,
      state: plan.problems
        ? { kind: 'problems', count: plan.problems }
        : state(plan.blocks > 0, plan.blocks > 0 && plan.proposed === 0),
    },
    { path: 'bench', name: 'Bench', icon: IconTools, state: state(lab.drawn > 0, lab.drawn > 0) },
    {
      path: 'spec',
      name: 'Spec',
      icon: IconChecklist,
      state: lab.specProblems.length
        ? { kind: 'problems', count: lab.specProblems.length }
        : state(requirements > 0, requirements > 0),
    },
    {
      path: 'class',
      name: 'Class',
      icon: IconUsers,
      state: state(lab.handedIn > 0, lab.handedIn > 0 && lab.handedIn === lab.students),
    },
    {
      path: 'results',
      name: 'Results',
      icon: IconChartHistogram,
      state: state(lab.checked > 0, lab.checked > 0 && lab.checked === lab.handedIn),
    },
  ];
}

/** On a small page, in thumbs' reach. */
const AT_THE_LOWER_EDGE = {
  width: '100%',
  flexDirection: 'row',
  position: 'sticky',
  bottom: 0,
  zIndex: 4,
  borderRight: 0,
  borderTop: '1px solid var(--line2)',
  px: 1,
  py: 0.5,
  gap: 0.5,
  overflowY: 'visible',
} as const;

/** The lab's stations in the order of the work: a line with stops, the state at each stop's shoulder. */
export function Rail({ lab }: { lab: LabView }) {
  return (
    <Box
      component="nav"
      aria-label="Stations of the lab"
      sx={{
        width: 64,
        flex: 'none',
        background: 'var(--sunk)',
        borderRight: '1px solid var(--line)',
        display: 'flex',
        flexDirection: 'column',
        alignItems: 'center',
        py: 1.5,
        gap: 1,
        overflowY: 'auto',
        [IF_SMALL]: {
          ...AT_THE_LOWER_EDGE,
          // Where a page has no more than a few lines, they are not for what stays in sight.
          '@media (max-height: 340px)': { position: 'static' },
        },
      }}
    >
      <Tooltip title="All courses" placement="right">
        <Link to="/" aria-label="All courses">
          <Mark size={32} />
        </Link>
      </Tooltip>
      <Box
        component="ol"
        sx={{
          listStyle: 'none',
          m: 0,
          p: 0,
          mt: 0.5,
          display: 'flex',
          flexDirection: 'column',
          gap: '10px',
          [IF_SMALL]: { flexDirection: 'row', gap: 0, mt: 0, flex: 1, justifyContent: 'space-evenly', minWidth: 0 },
        }}
      >
        {stationsOf(lab).map((station, at) => (
          <Box
            component="li"
            key={station.path}
            sx={{
              position: 'relative',
              '&::before': at
                ? {
                    content: '""',
                    position: 'absolute',
                    left: '50%',
                    top: -10,
                    height: 10,
                    borderLeft: '2px solid var(--line2)',
                    [IF_SMALL]: { display: 'none' },
                  }
                : {},
            }}
          >
            <Stop station={station} />
          </Box>
        ))}
      </Box>
      <Box sx={{ flex: 1, [IF_SMALL]: { display: 'none' } }} />
      <PersonMenu />
    </Box>
  );
}

function Stop({ station: { path, name, icon: Icon, state } }: { station: Station }) {
  const word = state.kind === 'problems' ? `${state.count} problems` : WORDS[state.kind];
  return (
    <Box
      component={NavLink}
      to={path}
      aria-label={`${name}: ${word}`}
      sx={{
        display: 'flex',
        flexDirection: 'column',
        alignItems: 'center',
        gap: '3px',
        width: 60,
        [IF_SMALL]: { width: 'auto', minWidth: 40, px: '2px' },
        color: 'var(--ink2)',
        textDecoration: 'none',
        fontSize: 12,
        '& .stop': {
          width: 36,
          height: 36,
          borderRadius: '10px',
          display: 'grid',
          placeItems: 'center',
          background: 'var(--surface)',
          border: '1.5px solid var(--line2)',
          position: 'relative',
        },
        '&:focus-visible': { outlineOffset: '-2px' },
        '&.active': { color: 'var(--ink)', fontWeight: 700 },
        '&.active .stop': { background: 'var(--spruce)', borderColor: 'var(--spruce)', color: 'var(--on-spruce)' },
      }}
    >
      <span className="stop">
        <Icon size={20} />
        <StateMark state={state} />
      </span>
      {name}
    </Box>
  );
}

/** Check, half, ring or numbered diamond: a shape first, a colour second. */
function StateMark({ state }: { state: StationState }) {
  const place = { position: 'absolute', top: -7, right: -7 } as const;
  if (state.kind === 'problems')
    return (
      <svg width={18} height={18} viewBox="0 0 18 18" style={place} aria-hidden>
        <path d="M9 1 17 9 9 17 1 9z" fill="var(--brick)" />
        <text x={9} y={12.6} textAnchor="middle" fontSize={10} fontWeight={700} fill="var(--surface)">
          {state.count}
        </text>
      </svg>
    );
  return (
    <svg width={14} height={14} viewBox="0 0 14 14" style={place} aria-hidden>
      <circle
        cx={7}
        cy={7}
        r={5.4}
        fill={state.kind === 'ready' ? 'var(--spruce)' : 'var(--surface)'}
        stroke={state.kind === 'ready' ? 'var(--surface)' : 'var(--ink3)'}
        strokeWidth={1.4}
      />
      {state.kind === 'begun' && <path d="M7 1.6a5.4 5.4 0 0 1 0 10.8z" fill="var(--ink3)" />}
      {state.kind === 'ready' && (
        <path d="m4.6 7.1 1.7 1.7 3.1-3.4" fill="none" stroke="var(--on-spruce)" strokeWidth={1.5} />
      )}
    </svg>
  );
}
