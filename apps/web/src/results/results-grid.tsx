import { Box } from '@mui/material';
import { type ResultRow, type ResultsView } from '@sobrin/contracts';
import { Fragment, type KeyboardEvent, useState } from 'react';
import { useNavigate } from 'react-router';
import { counted, penaltyWords } from '../ui/mark-words';
import { points } from '../ui/words';
import { VerdictSign } from '../ui/verdict';
import { shares } from './statistics';

const WORDS = {
  met: 'full',
  partly: 'part',
  lost: 'none',
  unjudged: 'not certain',
  notApplying: 'does not apply',
} as const;

/** The grid: a line a student, a column a requirement, the mark at the end. Arrow keys walk it, Enter opens the evidence. */
export function ResultsGrid({ results, lab }: { results: ResultsView; lab: string }) {
  const navigate = useNavigate();
  const sections = [...new Set(results.requirements.map((requirement) => requirement.section))].map((id) => ({
    id,
    list: results.requirements.filter((requirement) => requirement.section === id),
  }));
  const won = new Map(shares(results).map((share) => [share.id, share.share]));
  /** The cell that Tab comes to. */
  const [stop, setStop] = useState<string | null>(null);
  const firstRow = results.rows.find((row) => row.cells.length);
  const tabbed = stop ?? (firstRow ? `${firstRow.studentId} ${sections[0]?.list[0]?.id}` : null);
  const open = (row: ResultRow): void => void (row.submissionId && navigate(`/labs/${lab}/class/${row.submissionId}`));
  return (
    <Box
      sx={{
        flex: 1,
        minWidth: 0,
        overflow: 'auto',
        py: 2,
        pl: 2,
        scrollPaddingLeft: '160px',
        scrollPaddingRight: '110px',
      }}
      onKeyDown={walk}
      onFocus={({ target }) => target.matches('.cell') && setStop(target.dataset.cell ?? null)}
    >
      <Box
        component="table"
        aria-label="Results"
        sx={{
          borderCollapse: 'separate',
          borderSpacing: 0,
          '& th, & td': { p: 0, height: 24, textAlign: 'center', whiteSpace: 'nowrap' },
          '& th': { fontSize: 12, fontWeight: 650 },
          '& .gap': { minWidth: 6, width: 6 },
          '& .mark': {
            position: 'sticky',
            right: 0,
            background: 'var(--ground)',
            textAlign: 'right',
            pl: 1,
            pr: 2,
            zIndex: 1,
            borderLeft: '1px solid var(--line)',
          },
          '& .who': { textAlign: 'left', pr: 2, position: 'sticky', left: 0, background: 'var(--ground)', zIndex: 1 },
          '& tbody tr:nth-of-type(odd) td, & tbody tr:nth-of-type(odd) th': { background: 'var(--surface)' },
        }}
      >
        <thead>
          <tr>
            <th className="who" scope="col">
              Student
            </th>
            {sections.map(({ id, list }, nth) => (
              <Fragment key={id}>
                <th className="gap">
                  <div style={{ width: 6 }} />
                </th>
                <th
                  colSpan={list.length}
                  scope="colgroup"
                  style={{
                    textAlign: 'left',
                    borderBottom: '1.5px solid var(--line2)',
                    maxWidth: list.length * 24,
                    overflow: 'hidden',
                    textOverflow: 'ellipsis',
                  }}
                  title={list[0]!.sectionTitle}
                >
                  {nth + 1} {list[0]!.sectionTitle}
                </th>
              </Fragment>
            ))}
            <th className="gap">
              <div style={{ width: 6 }} />
            </th>
            <th className="mark" scope="col">
              Mark
            </th>
          </tr>
          <tr>
            <th className="who" />
            {sections.map(({ id, list }, nth) => (
              <Fragment key={id}>
                <th className="gap">
                  <div style={{ width: 6 }} />
                </th>
                {list.map((requirement) => (
                  <th
                    key={requirement.id}
                    scope="col"
                    className="mono"
                    title={`${requirement.sentence} (${points(requirement.of)} points)`}
                    aria-label={requirement.id}
                    style={{ width: 24, fontSize: 11 }}
                  >
                    {withinSection(requirement.id, nth + 1)}
                  </th>
                ))}
              </Fragment>
            ))}
            <th className="gap">
              <div style={{ width: 6 }} />
            </th>
            <th className="mark mono" style={{ color: 'var(--ink2)', fontWeight: 400 }}>
              of {points(results.of)}
            </th>
          </tr>
        </thead>
        <tbody>
          {results.rows.map((row) => (
            <tr key={row.studentId}>
              <th className="who" scope="row" style={{ fontSize: 13, fontWeight: 400 }}>
                {row.name}
              </th>
              {row.cells.length === 0 && (
                <td
                  colSpan={results.requirements.length + sections.length}
                  style={{ textAlign: 'left', paddingLeft: 14, color: 'var(--ink3)', fontSize: 12 }}
                >
                  {stateOf(row)}
                </td>
              )}
              {row.cells.length > 0 &&
                sections.map(({ id, list }) => (
                  <Fragment key={id}>
                    <td className="gap" />
                    {list.map((requirement) => (
                      <Cell
                        key={requirement.id}
                        row={row}
                        requirement={requirement}
                        isTabbed={tabbed === `${row.studentId} ${requirement.id}`}
                        onOpen={() => open(row)}
                      />
                    ))}
                  </Fragment>
                ))}
              <td className="gap" />
              <td className="mark mono" style={{ fontWeight: 650 }}>
                {row.penalty && (
                  <span title={penaltyWords(row.penalty)} style={{ fontWeight: 400, color: 'var(--ochre-text)' }}>
                    {[row.penalty.hints && 'hints', row.penalty.late && 'late'].filter(Boolean).join(', ')}{' '}
                  </span>
                )}
                {row.points === null ? '–' : counted({ points: row.points, penalty: row.penalty }).toFixed(1)}
                {row.of !== null && row.of !== results.of && ` / ${points(row.of)}`}
              </td>
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <th className="who" scope="row" style={{ borderTop: '1.5px solid var(--line2)' }}>
              % of points won
            </th>
            {sections.map(({ id, list }) => (
              <Fragment key={id}>
                <td className="gap" style={{ borderTop: '1.5px solid var(--line2)' }} />
                {list.map((requirement) => (
                  <Share key={requirement.id} share={won.get(requirement.id) ?? null} />
                ))}
              </Fragment>
            ))}
            <td className="gap" style={{ borderTop: '1.5px solid var(--line2)' }} />
            <td className="mark" style={{ borderTop: '1.5px solid var(--line2)' }} />
          </tr>
        </tfoot>
      </Box>
    </Box>
  );
}

function stateOf({ submissionId, points, version }: ResultRow): string {
  if (!submissionId) return 'not handed in';
  if (points === null) return 'to check';
  return version === null ? 'checked before the lab had versions' : `checked by version ${version}`;
}

/** "4.8" is written 8 under the heading of section 4; other ids stay whole. */
const withinSection = (id: string, section: number): string =>
  id.startsWith(`${section}.`) ? id.slice(`${section}.`.length) : id;

function Cell({
  row,
  requirement,
  isTabbed,
  onOpen,
}: {
  row: ResultRow;
  requirement: ResultsView['requirements'][number];
  /** Of all cells Tab stops at this one. */
  isTabbed: boolean;
  onOpen: () => void;
}) {
  const cell = row.cells.find((cell) => cell.id === requirement.id);
  if (!cell) return <td />;
  const words = `${row.name}, ${requirement.id}: ${WORDS[cell.verdict]}, ${points(cell.points)} of ${points(cell.of)}`;
  return (
    <td>
      <Box
        component="button"
        type="button"
        className="cell"
        data-cell={`${row.studentId} ${requirement.id}`}
        tabIndex={isTabbed ? 0 : -1}
        title={words}
        aria-label={words}
        onClick={onOpen}
        sx={{
          all: 'unset',
          cursor: 'pointer',
          width: 24,
          height: 24,
          display: 'grid',
          placeItems: 'center',
          borderRadius: '6px',
          '&:focus-visible': { outline: '2px solid var(--spruce)', outlineOffset: -1 },
        }}
      >
        <VerdictSign verdict={cell.verdict} size={16} silent />
      </Box>
    </td>
  );
}

function Share({ share }: { share: number | null }) {
  const percent = share === null ? null : Math.round(100 * share);
  const low = percent !== null && percent < 60;
  return (
    <td style={{ borderTop: '1.5px solid var(--line2)', height: 44, verticalAlign: 'bottom' }}>
      {percent !== null && (
        <>
          <div
            className="share-bar"
            style={{
              height: 22,
              width: 14,
              margin: '2px auto',
              background: 'var(--sunk)',
              borderRadius: 3,
              position: 'relative',
              overflow: 'hidden',
            }}
          >
            <div
              style={{
                position: 'absolute',
                bottom: 0,
                left: 0,
                right: 0,
                height: `${percent}%`,
                background: low ? 'var(--brick)' : 'var(--ink2)',
              }}
            />
          </div>
          <span
            className="mono"
            style={{
              fontSize: 10.5,
              letterSpacing: '-.04em',
              color: low ? 'var(--brick)' : 'var(--ink2)',
              fontWeight: low ? 700 : 400,
            }}
          >
            {percent < 100 ? percent : '\u00a0'}
          </span>
        </>
      )}
    </td>
  );
}

/** Moves the focus from cell to cell. */
function walk(event: KeyboardEvent<HTMLElement>): void {
  const cell = (event.target as HTMLElement).closest('td');
  const row = cell?.closest('tr');
  if (!cell || !row || !event.key.startsWith('Arrow')) return;
  const cells = [...row.querySelectorAll<HTMLElement>('.cell')];
  const at = cells.indexOf(cell.querySelector<HTMLElement>('.cell')!);
  const sideways = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
  const next = sideways
    ? cells[at + sideways]
    : ((event.key === 'ArrowUp' ? row.previousElementSibling : row.nextElementSibling)?.querySelectorAll<HTMLElement>(
        '.cell',
      )[at] ?? null);
  if (!next) return;
  event.preventDefault();
  next.focus();
}
