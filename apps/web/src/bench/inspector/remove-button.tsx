import { Button } from '@mui/material';
import { IconTrash } from '@tabler/icons-react';
import { removeChosen } from '@sobrin/core/editing';
import { useBench } from '../use-bench';

export function RemoveButton({ what }: { what: string }) {
  const { document: topology, selection, do: run } = useBench((state) => state);
  return (
    <Button
      color="error"
      startIcon={<IconTrash size={16} />}
      sx={{ mt: 2 }}
      onClick={() => run(`remove ${what}`, ...removeChosen(topology, selection))}
    >
      Remove {what}
    </Button>
  );
}
