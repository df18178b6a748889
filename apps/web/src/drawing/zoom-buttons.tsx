import { IconButton, Tooltip } from '@mui/material';
import { IconMaximize, IconMinus, IconPlus } from '@tabler/icons-react';
import { Panel, useReactFlow, useStore } from '@xyflow/react';
import { type ReactNode, useEffect } from 'react';

/** How everything is shown at once: with a little margin, and never larger than life. */
export const FIT = { padding: 0.06, maxZoom: 1.1 } as const;

/** Shows everything again whenever the room for a drawing one only looks at changes. */
export function KeepFitted() {
  const flow = useReactFlow();
  const width = useStore((state) => state.width);
  const height = useStore((state) => state.height);
  useEffect(() => {
    if (width && height) void flow.fitView(FIT);
  }, [flow, width, height]);
  return null;
}

export function ZoomButtons() {
  const flow = useReactFlow();
  return (
    <Panel position="bottom-right" style={{ margin: 10, display: 'flex', gap: 4 }}>
      <ZoomButton title="Zoom out" onClick={() => void flow.zoomOut()}>
        <IconMinus size={16} />
      </ZoomButton>
      <ZoomButton title="Zoom in" onClick={() => void flow.zoomIn()}>
        <IconPlus size={16} />
      </ZoomButton>
      <ZoomButton title="Show all" onClick={() => void flow.fitView(FIT)}>
        <IconMaximize size={16} />
      </ZoomButton>
    </Panel>
  );
}

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
