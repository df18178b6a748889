import { IconButton, Tooltip } from '@mui/material';
import { type ReactNode } from 'react';

interface Props {
  /** What it does, shown while pointed at; also its name, unless `name` is a shorter one. */
  title: string;
  name?: string;
  disabled?: boolean;
  pressed?: boolean;
  /** Whether its menu is open; absent where it has none. */
  menuOpen?: boolean;
  onClick: (event: { currentTarget: HTMLElement }) => void;
  children: ReactNode;
}

/** A button that is only an icon: it says what it does also while it cannot do it. */
export function IconTool({ title, name = title, disabled = false, pressed, menuOpen, onClick, children }: Props) {
  return (
    <Tooltip title={title}>
      <span>
        <IconButton
          size="small"
          aria-label={name}
          aria-pressed={pressed}
          {...(menuOpen !== undefined && { 'aria-haspopup': 'menu', 'aria-expanded': menuOpen })}
          disabled={disabled}
          onClick={onClick}
          sx={{ background: pressed ? 'var(--spruce-tint)' : undefined }}
        >
          {children}
        </IconButton>
      </span>
    </Tooltip>
  );
}
