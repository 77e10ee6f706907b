import { useThree } from '@react-three/fiber';
import { useLayoutEffect, useMemo } from 'react';
import { Color, type BufferAttribute } from 'three';
import { controlOf, type Matrix, type ObjectRecord } from '@umberfish/core';
import { useStore } from '../../state/store.ts';
import { INK } from './lines.tsx';
import { shapeOf } from './control-shapes.ts';
import { useColoured } from './use-coloured.ts';

const PLUM = new Color('#8a2f52');

interface Props {
  objects: readonly ObjectRecord[];
  byId: ReadonlyMap<string, ObjectRecord>;
  matrixOf(object: string): Matrix;
  picked: ReadonlySet<string>;
}

/** Locators by their controls or crosses, all at once, however many they are; plum when they are picked. */
export function Locators({ objects, ...rest }: Props) {
  const [over, within] = useMemo(() => {
    const isOver = (o: ObjectRecord) => controlOf(o)?.inFront !== false;
    return [objects.filter(isOver), objects.filter((o) => !isOver(o))];
  }, [objects]);
  return (
    <>
      <Shapes objects={over} over {...rest} />
      <Shapes objects={within} over={false} {...rest} />
    </>
  );
}

function Shapes({ objects, byId, matrixOf, picked, over }: Props & { over: boolean }) {
  const invalidate = useThree((s) => s.invalidate);
  const theme = useStore((s) => s.ui.theme);
  const shapes = useMemo(() => objects.map((o) => shapeOf(o, (id) => byId.get(id))), [objects, byId]);
  const size = shapes.reduce((n, s) => n + s.length, 0);
  const geometry = useColoured(size);
  useLayoutEffect(() => {
    const position = geometry.getAttribute('position') as BufferAttribute;
    const colour = geometry.getAttribute('color') as BufferAttribute;
    const ink = new Color(INK[theme]);
    let at = 0;
    objects.forEach((o, i) => {
      placeShape(position.array as Float32Array, at, shapes[i], matrixOf(o.id));
      const own = controlOf(o)?.colour;
      const { r, g, b } = picked.has(o.id) ? PLUM : own ? { r: own[0], g: own[1], b: own[2] } : ink;
      const end = at + shapes[i].length;
      for (; at < end; at += 3) colour.array.set([r, g, b], at);
    });
    position.needsUpdate = true;
    colour.needsUpdate = true;
    invalidate();
  }, [geometry, objects, shapes, matrixOf, picked, theme, invalidate]);
  if (size === 0) return null;
  return (
    <lineSegments geometry={geometry} renderOrder={over ? 10 : 3} frustumCulled={false}>
      <lineBasicMaterial vertexColors depthTest={!over} transparent />
    </lineSegments>
  );
}

function placeShape(out: Float32Array, at: number, shape: readonly number[], m: Matrix): void {
  for (let k = 0; k < shape.length; k += 3) {
    const [x, y, z] = [shape[k], shape[k + 1], shape[k + 2]];
    for (let row = 0; row < 3; row++) out[at + k + row] = m[row] * x + m[4 + row] * y + m[8 + row] * z + m[12 + row];
  }
}
