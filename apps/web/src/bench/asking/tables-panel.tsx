import { Box, IconButton, Typography } from '@mui/material';
import { IconX } from '@tabler/icons-react';
import { type DeviceTables } from '@sobrin/core/engine';
import { useEffect, useState } from 'react';
import { DeviceTablesView } from '../../ui/device-tables';
import { SidePanel } from '../../ui/side-panel';

/** What a device knows, table by table; those that hold nothing are left out. */
export default function TablesPanel({
  ask,
  onClose,
}: {
  ask: () => Promise<DeviceTables | null>;
  onClose: () => void;
}) {
  const [tables, setTables] = useState<DeviceTables | null>(null);
  useEffect(() => {
    let isWanted = true;
    void ask().then((found) => isWanted && setTables(found));
    return () => void (isWanted = false);
  }, [ask]);
  if (!tables) return null;
  return (
    <SidePanel label="Tables" wide onClose={onClose}>
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 1 }}>
        <Typography variant="h2" sx={{ flex: 1, fontSize: 16 }}>
          Tables of {tables.device}
        </Typography>
        <IconButton size="small" aria-label="Close the tables" onClick={onClose} autoFocus>
          <IconX size={16} />
        </IconButton>
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mb: 1.5 }}>
        As they are when everybody has talked to everybody.
      </Typography>
      <DeviceTablesView tables={tables} />
    </SidePanel>
  );
}
