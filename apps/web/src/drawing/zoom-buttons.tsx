import { IconButton, Tooltip } from '@mui/material';
import { IconMaximize, IconMinus, IconPlus } from '@tabler/icons-react';
import { Panel, useReactFlow } from '@xyflow/react';
import { type ReactNode, memo } from 'react';

export const ZoomButtons = memo(function ZoomButtons({ onAll }: { onAll: () => void }) {
  const flow = useReactFlow();
  return (
    <Panel data-tools position="bottom-right" style={{ margin: 10, display: 'flex', gap: 4 }}>
      <ZoomButton title="Zoom out" onClick={() => void flow.zoomOut()}>
        <IconMinus size={16} />
      </ZoomButton>
      <ZoomButton title="Zoom in" onClick={() => void flow.zoomIn()}>
        <IconPlus size={16} />
      </ZoomButton>
      <ZoomButton title="Show all" onClick={onAll}>
        <IconMaximize size={16} />
      </ZoomButton>
    </Panel>
  );
});

function ZoomButton({ title, onClick, children }: { title: string; onClick: () => void; children: ReactNode }) {
  return (
    <Tooltip title={title}>
      <IconButton
        size="small"
        aria-label={title}
        onClick={onClick}
        sx={{
          background: 'var(--surface)',
          border: '1px solid var(--line)',
          borderRadius: '8px',
          width: 28,
          height: 28,
        }}
      >
        {children}
      </IconButton>
    </Tooltip>
  );
}
