import { Button, type ButtonProps } from '@mui/material';
import { IconPlus } from '@tabler/icons-react';
import { focusAdded } from './focus/focus-added';

/**
 * Adds a row to the list that it stands beneath, and puts the focus there. `of` finds the list where the button stands
 * deeper than right beneath it.
 */
export const AddButton = ({
  onAdd,
  of,
  ...props
}: Omit<ButtonProps, 'onClick'> & { onAdd: () => void; of?: string }) => (
  <Button
    startIcon={<IconPlus size={14} />}
    {...props}
    onClick={({ currentTarget }) =>
      focusAdded((of === undefined ? currentTarget.parentElement : currentTarget.closest(of)) ?? currentTarget, onAdd)
    }
  />
);
