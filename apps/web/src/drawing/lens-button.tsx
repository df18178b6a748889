import { Button } from '@mui/material';

/** A lens that can be on or off. */
export function LensButton({ text, isOn, onToggle }: { text: string; isOn: boolean; onToggle: () => void }) {
  return (
    <Button
      size="small"
      aria-pressed={isOn}
      onClick={onToggle}
      sx={{
        px: 1,
        minWidth: 0,
        color: isOn ? 'var(--spruce)' : 'var(--ink2)',
        background: isOn ? 'var(--spruce-tint)' : undefined,
        borderBottom: isOn ? '2px solid var(--spruce)' : '2px solid transparent',
      }}
    >
      {text}
    </Button>
  );
}
