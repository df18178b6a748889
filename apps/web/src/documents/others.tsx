import { Tooltip } from '@mui/material';
import { type Present } from '@sobrin/contracts';
import { createStore } from 'zustand/vanilla';
import { useStore } from 'zustand';
import { Initials } from '../ui/initials';

export const lineOfDocument = (id: string): string => `/api/documents/${id}/live`;
export const lineOfLab = (id: string): string => `/api/labs/${id}/live`;

/** Who else is on the live lines of this page, by their addresses. */
const others = createStore<Readonly<Record<string, readonly Present[]>>>(() => ({}));
export const othersAt = (line: string, present: readonly Present[]): void => others.setState({ [line]: present });
const NOBODY: readonly Present[] = [];

/** Who else has the same open. */
export function Others({ line }: { line: string }) {
  const present = useStore(others, (state) => state[line] ?? NOBODY);
  return (
    <span role="status" aria-live="polite" style={{ display: 'flex', gap: 4 }}>
      {present.map(({ id, name }) => (
        <Tooltip key={id} title={`${name} has this open, too`}>
          <span>
            <Initials name={name} label={`${name} has this open, too`} size={26} />
          </span>
        </Tooltip>
      ))}
    </span>
  );
}
