// What npm run bench:web compares the Bench with: the same scene drawn with the library alone, as its users are told to,
// with memoised boxes and links, and everything rendered.
import '@xyflow/react/dist/base.css';
import { BaseEdge, Handle, Position, ReactFlow, getStraightPath, useEdgesState, useNodesState } from '@xyflow/react';
import { memo, useState } from 'react';
import { createRoot } from 'react-dom/client';

const Box = memo(function Box({ data }) {
  return (
    <>
      <div className="box">
        <b>{data.name}</b>
        <div>{data.lines[0]}</div>
        <div>{data.lines[1]}</div>
      </div>
      <Handle type="target" position={Position.Top} />
      <Handle type="source" position={Position.Bottom} />
    </>
  );
});

const Link = memo(function Link({ id, sourceX, sourceY, targetX, targetY, data }) {
  const [path, middleX, middleY] = getStraightPath({ sourceX, sourceY, targetX, targetY });
  return (
    <>
      <BaseEdge id={id} path={path} />
      <text x={sourceX + 8} y={sourceY + 12}>
        {data.labels[0]}
      </text>
      <text x={middleX} y={middleY}>
        {data.labels[1]}
      </text>
      <text x={targetX + 8} y={targetY - 6}>
        {data.labels[2]}
      </text>
    </>
  );
});

const NODES = { box: Box };
const EDGES = { link: Link };

function Bare({ scene }) {
  const [nodes, , onNodesChange] = useNodesState(
    scene.boxes.map(({ id, x, y, width, height, ...data }) => ({
      id,
      type: 'box',
      position: { x, y },
      width,
      height,
      data,
    })),
  );
  const [edges, , onEdgesChange] = useEdgesState(
    scene.links.map(({ id, from, to, labels }) => ({ id, type: 'link', source: from, target: to, data: { labels } })),
  );
  return (
    <ReactFlow
      nodes={nodes}
      edges={edges}
      nodeTypes={NODES}
      edgeTypes={EDGES}
      onNodesChange={onNodesChange}
      onEdgesChange={onEdgesChange}
      minZoom={0.1}
      fitView
      proOptions={{ hideAttribution: true }}
    />
  );
}

function Page() {
  const [scene, setScene] = useState(null);
  globalThis.draw = setScene;
  return scene && <Bare scene={scene} />;
}

createRoot(document.getElementById('root')).render(<Page />);
