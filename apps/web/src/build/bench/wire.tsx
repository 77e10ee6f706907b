import { BaseEdge, getBezierPath, type EdgeProps } from '@xyflow/react';
import { memo } from 'react';
import { useStore } from '../../state/store.ts';
import type { WireEdge } from './flow.ts';

/** A wire: one ink line for a single, a double line for a column. */
export const Wire = memo(function Wire(props: EdgeProps<WireEdge>) {
  const { sourceX, sourceY, targetX, targetY, sourcePosition, targetPosition, selected, data } = props;
  const wire = data?.wire;
  const form = useStore((s) =>
    wire ? s.evaluation.reports[wire.from.node]?.outputs[wire.from.port]?.form : undefined,
  );
  const [path] = getBezierPath({
    sourceX,
    sourceY,
    targetX,
    targetY,
    sourcePosition,
    targetPosition,
    curvature: 0.3,
  });
  const ink = selected ? 'var(--pick)' : 'var(--umber)';
  const doubled = form === 'column';
  return (
    <>
      <BaseEdge path={path} interactionWidth={14} style={{ stroke: ink, strokeWidth: doubled ? 4 : 1.4 }} />
      {doubled && (
        <path d={path} fill="none" stroke="var(--paper)" strokeWidth={1.6} className="pointer-events-none" />
      )}
    </>
  );
});
