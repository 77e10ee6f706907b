import {
  carrierOf,
  decompose,
  driversOf,
  identity,
  inverseOf,
  localMatrix,
  nodeTitle,
  parentMatrix,
  product,
  worldMatrix,
  type Matrix,
  type ObjectRecord,
  changeObject,
} from '@umberfish/core';
import { ChevronRight } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { usePose } from '../../engine/pose.ts';
import { applyEdit, useSend } from '../../state/store.ts';
import { objectsPicked, uiSet } from '../../state/ui-slice.ts';
import { Button } from '../../ui/button.tsx';
import { catalogue } from '../../state/catalogue.ts';

/** What puts an object where it is, from its own channels outwards, each with its matrix on demand. */
export function WhoseTransform({ object: record }: { object: ObjectRecord }) {
  const pose = usePose();
  const send = useSend();
  const object = pose?.objects.get(record.id);
  if (!pose || !object) return null;
  const drivers = driversOf(catalogue(), pose.project, { object: object.id });
  const carrier = carrierOf(object, 'channels', pose.driven);
  const parent = object.parent === null ? undefined : pose.objects.get(object.parent);
  const P = parentMatrix(pose.objects, object, 'channels', pose.driven);
  const own = localMatrix(object, 'channels', pose.driven);
  const isAtRest = JSON.stringify(object.channels) === JSON.stringify(object.rest);
  return (
    <section aria-label="Whose transform" className="mt-1 border-t border-line pt-1.5" data-chain-of={object.id}>
      <h3 className="font-serif text-[13px] font-semibold">Whose transform?</h3>
      <Step title="Own channels" matrix={own} above={product(P, carrier ?? identity())}>
        {same(own, identity()) ? 'not moved' : 'as above'}
      </Step>
      <Step title="Carrier" matrix={carrier ?? identity()} above={P}>
        {drivers.length > 1 ? (
          <span className="text-rust">two nodes claim it</span>
        ) : drivers.length === 1 ? (
          <>
            from{' '}
            <Link
              onClick={() =>
                send(
                  uiSet({
                    graph: drivers[0].node.graph.id,
                    nodes: [drivers[0].node.record.id],
                    objects: [],
                    port: null,
                  }),
                )
              }
            >
              {drivers[0].node.graph.name} › {nodeTitle(drivers[0].node)}
            </Link>
          </>
        ) : object.carrier ? (
          'a fixed matrix'
        ) : (
          'none'
        )}
      </Step>
      <Step title="Under" matrix={P} above={identity()}>
        {parent ? <Link onClick={() => send(objectsPicked([parent.id]))}>{parent.name}</Link> : 'the world'}
      </Step>
      <Step title="Together" matrix={pose.world(object.id)} above={identity()} inParent={P}>
        where it stands
      </Step>
      <Step
        title="At rest"
        matrix={worldMatrix(pose.objects, object.id, 'rest')}
        above={identity()}
        inParent={parentMatrix(pose.objects, object, 'rest')}
      >
        {isAtRest ? 'as now' : 'not as now'}
      </Step>
      {!isAtRest && (
        <Button
          look="framed"
          className="mt-1 !h-6 !px-2 text-xs"
          onClick={() => applyEdit('Set rest here', changeObject(object.id, { rest: object.channels }))}
        >
          Set rest here
        </Button>
      )}
    </section>
  );
}

const same = (a: Readonly<Matrix>, b: Readonly<Matrix>) => a.every((v, i) => Math.abs(v - b[i]) < 1e-9);

function Link({ onClick, children }: { onClick(): void; children: ReactNode }) {
  return (
    <button type="button" className="min-w-0 truncate text-umber underline" onClick={onClick}>
      {children}
    </button>
  );
}

/** One factor of the chain: what it is, and its matrix when it is opened. */
function Step({
  title,
  matrix,
  above,
  inParent,
  children,
}: {
  title: string;
  matrix: Readonly<Matrix>;
  /** What stands above it: with it, the matrix in the world. */
  above: Readonly<Matrix>;
  /** Of a world matrix: the parent, to show it as seen from there. */
  inParent?: Readonly<Matrix>;
  children: ReactNode;
}) {
  const [open, setOpen] = useState(false);
  const [as, setAs] = useState<'parts' | 'sixteen'>('parts');
  const [space, setSpace] = useState<'parent' | 'world'>(inParent ? 'world' : 'parent');
  const fromParent = inParent && inverseOf(inParent);
  const shown = space === 'world' ? product(above, matrix) : fromParent ? product(fromParent, matrix) : matrix;
  return (
    <div data-step={title}>
      <div className="flex min-h-6 items-center gap-1 text-xs">
        <button
          type="button"
          aria-expanded={open}
          aria-label={`Matrix of ${title.toLowerCase()}`}
          onClick={() => setOpen(!open)}
          className="flex w-[92px] shrink-0 items-center gap-0.5 text-left text-soft hover:text-ink"
        >
          <ChevronRight size={12} className={open ? 'rotate-90' : ''} />
          {title}
        </button>
        <span className="flex min-w-0 flex-1 gap-1 overflow-hidden whitespace-nowrap text-ink">{children}</span>
      </div>
      {open && (
        <div className="mb-1 rounded border border-line bg-sunk px-1.5 py-1">
          <div className="mb-1 flex gap-2 text-[11px] text-soft">
            <Toggle on={as === 'parts'} onClick={() => setAs('parts')}>
              in parts
            </Toggle>
            <Toggle on={as === 'sixteen'} onClick={() => setAs('sixteen')}>
              sixteen
            </Toggle>
            <span className="flex-1" />
            <Toggle on={space === 'parent'} onClick={() => setSpace('parent')}>
              {inParent ? "parent's" : 'as it is'}
            </Toggle>
            <Toggle on={space === 'world'} onClick={() => setSpace('world')}>
              world
            </Toggle>
          </div>
          {as === 'parts' ? <Parts matrix={shown} /> : <Sixteen matrix={shown} />}
        </div>
      )}
    </div>
  );
}

function Toggle({ on, onClick, children }: { on: boolean; onClick(): void; children: ReactNode }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onClick}
      className={on ? 'font-semibold text-ink underline' : 'hover:text-ink'}
    >
      {children}
    </button>
  );
}

const digits = (v: number, n = 3) => (Math.abs(v) < 5e-10 ? 0 : v).toFixed(n);

function Parts({ matrix }: { matrix: Readonly<Matrix> }) {
  const d = decompose(matrix, 'xyz');
  const rows: [string, readonly number[], string][] = [
    ['move', d.translate, 'm'],
    ['turn', d.anglesInRadians.map((a) => (a * 180) / Math.PI), '°'],
    ['size', d.scale, '×'],
  ];
  if (d.shear.some((v) => Math.abs(v) > 1e-9)) rows.push(['shear', d.shear, '']);
  return (
    <table className="number w-full text-[11px]">
      <tbody>
        {rows.map(([name, values, unit]) => (
          <tr key={name}>
            <td className="text-soft">{name}</td>
            {values.map((v, i) => (
              <td key={i} className="text-right">
                {digits(v, name === 'turn' ? 1 : 3)}
              </td>
            ))}
            <td className="w-3 text-right text-faint">{unit}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Rows of the matrix as it is written on paper. */
function Sixteen({ matrix }: { matrix: Readonly<Matrix> }) {
  return (
    <table className="number w-full text-[11px]">
      <tbody>
        {[0, 1, 2, 3].map((row) => (
          <tr key={row}>
            {[0, 1, 2, 3].map((column) => (
              <td key={column} className="text-right">
                {digits(matrix[column * 4 + row], 2)}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
