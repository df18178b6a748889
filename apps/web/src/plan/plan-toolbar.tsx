import { Button } from '@mui/material';
import { IconArrowsSplit2, IconPlus, IconTable } from '@tabler/icons-react';
import { type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { Others, lineOfDocument } from '../documents/others';
import { HistoryTools, SaveSign } from '../documents/tools';
import { MenuTool } from '../ui/menu-tool';
import { TopBar } from '../ui/top-bar';
import { usePlan, usePlanSetting } from './use-plan';
import { type PlanActions, type PlanDialog } from './use-plan-actions';

/** The top bar of the plan: what is done most, a menu for the rest, and whether all is saved. */
export function PlanToolbar({
  under,
  actions,
  open,
  children,
}: {
  under: string;
  actions: PlanActions;
  open: (dialog: PlanDialog) => void;
  children?: ReactNode;
}) {
  const state = usePlan((plan) => plan);
  const { title, drawingId, sharedId } = usePlanSetting();
  const go = useNavigate();
  const { isBlank } = actions;
  const proposed = Object.entries(state.document.blocks).flatMap(([id, block]) =>
    (block.standing ?? 'proposed') === 'proposed' ? [id] : [],
  );
  return (
    <TopBar title={title} under={under}>
      <Button
        size="small"
        variant="contained"
        startIcon={<IconPlus size={16} />}
        onClick={() => actions.addBlock()}
        title="Add a block (A)"
      >
        Block
      </Button>
      <Button
        size="small"
        variant="outlined"
        startIcon={<IconArrowsSplit2 size={16} />}
        disabled={isBlank}
        onClick={() => actions.divide()}
        title="Divide the chosen block (D)"
      >
        Divide
      </Button>
      <Button
        size="small"
        variant="outlined"
        startIcon={<IconTable size={16} />}
        onClick={() => open({ kind: 'paste' })}
        title="Paste a table (P)"
      >
        Paste a table
      </Button>
      {proposed.length > 0 && (
        <Button size="small" variant="outlined" onClick={() => actions.decideAll(proposed)}>
          Decide {proposed.length} proposed
        </Button>
      )}
      <MenuTool
        entries={[
          ...(drawingId === null
            ? []
            : [
                {
                  text: 'Take it to the bench…',
                  run: () => void go({ pathname: '../bench', search: '?from=plan' }, { relative: 'path' }),
                },
              ]),
          { text: 'Address table and worksheet…', run: () => open({ kind: 'table' }) },
          ...(drawingId === null ? [] : [{ text: 'Compare with the drawing…', run: () => open({ kind: 'compare' }) }]),
          { text: 'Workings and practice sheet… (W)', run: actions.workings },
          { text: 'Save the plan as CSV', run: actions.saveCsv },
          { text: 'Save the plan as a file', run: actions.saveFile },
          { text: 'Replace the plan by a file…', run: actions.readFile },
        ]}
      />
      <HistoryTools state={state} />
      {sharedId !== null && <Others line={lineOfDocument(sharedId)} />}
      <SaveSign save={state.save.kind} />
      {children}
    </TopBar>
  );
}
