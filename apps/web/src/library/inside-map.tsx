import { CATALOGUE, type GraphRecord } from '@umberfish/core';

const WIDTH = 160;
const HEIGHT = 84;

/** The cards and wires of a module as a small drawing. */
export function InsideMap({ graph, className = '' }: { graph: GraphRecord; className?: string }) {
  if (graph.nodes.length === 0) return null;
  const xs = graph.nodes.map((n) => n.position[0]);
  const ys = graph.nodes.map((n) => n.position[1]);
  const [left, top] = [Math.min(...xs) - 30, Math.min(...ys) - 30];
  const [right, low] = [Math.max(...xs) + WIDTH + 30, Math.max(...ys) + HEIGHT + 30];
  const at = new Map(graph.nodes.map((n) => [n.id, n.position]));
  return (
    <svg
      viewBox={`${left} ${top} ${right - left} ${low - top}`}
      className={className}
      role="img"
      aria-label={`The inside of ${graph.name}`}
    >
      {graph.wires.map((w) => {
        const [a, b] = [at.get(w.from.node), at.get(w.to.node)];
        if (!a || !b) return null;
        const [x1, y1, x2, y2] = [a[0] + WIDTH, a[1] + HEIGHT / 2, b[0], b[1] + HEIGHT / 2];
        const bend = Math.max(40, (x2 - x1) / 2);
        return (
          <path
            key={w.id}
            d={`M${x1} ${y1} C${x1 + bend} ${y1} ${x2 - bend} ${y2} ${x2} ${y2}`}
            fill="none"
            stroke="var(--umber)"
            strokeWidth={5}
            opacity={0.55}
          />
        );
      })}
      {graph.nodes.map((n) => {
        const isWall = CATALOGUE.get(n.type)?.way !== undefined;
        return (
          <rect
            key={n.id}
            x={n.position[0]}
            y={n.position[1]}
            width={WIDTH}
            height={HEIGHT}
            rx={8}
            fill={isWall ? 'var(--umber)' : 'var(--paper-raised)'}
            stroke="var(--line-strong)"
            strokeWidth={4}
          />
        );
      })}
    </svg>
  );
}
