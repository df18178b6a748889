import { Box } from '@mui/material';
import { type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';
import { BODY, IF_NARROW, IF_SMALL } from './frame';
import { goBack } from './focus/keeper';
import { PANEL_WIDTHS, usePreferences } from './preferences';

/**
 * What stands at the right of a drawing or a list (see DESK): an inspector, a trace, comments. How wide it is, a person
 * says.
 */
export function SidePanel({
  label,
  bare = false,
  wide = false,
  onClose,
  children,
}: {
  label: string;
  /** Its parts go to the edges themselves. */
  bare?: boolean;
  /** Wide enough for lines of text. */
  wide?: boolean;
  /** Closes it: Escape does, and nothing else with it. */
  onClose?: () => void;
  children: ReactNode;
}) {
  const width = usePreferences((state) => state.panelWidth);
  return (
    <Box
      component="aside"
      aria-label={label}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || event.defaultPrevented) return;
        event.preventDefault();
        if (onClose) onClose();
        else goBack(event.currentTarget);
      }}
      sx={{
        width: wide ? 'min(480px, 42vw)' : `min(${width}px, 60vw)`,
        flex: 'none',
        position: 'relative',
        display: 'flex',
        borderLeft: '1px solid var(--line)',
        background: 'var(--surface)',
        [IF_NARROW]: { width: '100%', height: '45%', borderLeft: 0, borderTop: '1px solid var(--line2)' },
        [IF_SMALL]: { height: 'auto' },
      }}
    >
      {!wide && <WidthGrip width={width} />}
      <Box sx={{ ...BODY, ...(!bare && { p: 2, pb: 4 }) }}>{children}</Box>
    </Box>
  );
}

/** The edge by which a panel is pulled wider, or with the arrow keys. */
function WidthGrip({ width }: { width: number }) {
  const set = usePreferences((state) => state.setPanelWidth);
  const drag = (event: PointerEvent<HTMLElement>): void => {
    const [from, before] = [event.clientX, width];
    const element = event.currentTarget;
    element.setPointerCapture(event.pointerId);
    element.onpointermove = (move) => set(before + from - move.clientX);
    element.onpointerup = () => (element.onpointermove = null);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const by = event.key === 'ArrowLeft' ? PANEL_WIDTHS.step : event.key === 'ArrowRight' ? -PANEL_WIDTHS.step : 0;
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    set(width + by);
  };
  return (
    <Box
      role="separator"
      tabIndex={0}
      aria-orientation="vertical"
      aria-label="Width of this panel"
      aria-valuenow={width}
      aria-valuemin={PANEL_WIDTHS.least}
      aria-valuemax={PANEL_WIDTHS.most}
      onPointerDown={drag}
      onKeyDown={onKeyDown}
      sx={{
        position: 'absolute',
        left: -3,
        top: 0,
        bottom: 0,
        width: 6,
        zIndex: 3,
        cursor: 'col-resize',
        touchAction: 'none',
        [IF_NARROW]: { display: 'none' },
        '&:hover': { background: 'var(--line2)' },
        '&:focus-visible': { outline: '2px solid var(--spruce)' },
      }}
    />
  );
}
