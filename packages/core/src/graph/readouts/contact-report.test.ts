import { expect, test } from 'vitest';
import { CATALOGUE } from '../../nodes/index.ts';
import type { InputValue } from '../../project/fields.ts';
import type { Project } from '../../project/schema.ts';
import { graph, node, project } from '../../testing/build.ts';
import { Evaluator } from '../evaluate/evaluator.ts';
import { ContactLog, contactRefs, type ContactReport } from './contact-report.ts';

/** A point over a deck, both moved by expressions of the frame. */
function quay(place: InputValue, deck: InputValue, ground = ['move.mesh > down.ground']): Project {
  return project([
    graph(
      [
        node('grid', 'make-grid', { inputs: { size: 4 } }),
        node('move', 'transform', { inputs: { translate: deck } }),
        node('down', 'ground-contact', { settings: { what: 'points' }, inputs: { positions: place, band: 0 } }),
      ],
      ['grid.mesh > move.mesh', ...ground],
    ),
  ]);
}

function reportOf(p: Project, frames = [1, 2, 3, 4, 5, 6]): ContactReport {
  const refs = contactRefs(CATALOGUE, p, 'down');
  if (!refs) throw new Error('no contacts');
  const log = new ContactLog(refs);
  const evaluator = new Evaluator(CATALOGUE);
  for (const frame of frames) log.add(frame, evaluator.evaluate({ project: p, frame, wanted: log.wanted }));
  return log.report();
}
const moving = (expression: string): InputValue => [{ expression }, 0, 0];

test('how deep, when, how long it touches: against the formula of its way', () => {
  // 5 cm deep at frame 3, above from frame 4 on.
  const { rows, without, frames } = reportOf(quay([0, { expression: 'if(frame < 4, 0.01 - frame * 0.02, 0.3)' }, 0], [0, 0, 0]));
  expect([frames.length, without]).toEqual([6, []]);
  const [row] = rows;
  expect(row.name).toBe('Point 0');
  expect(row.before?.frame).toBe(3);
  expect(row.before?.value).toBeCloseTo(0.05, 6);
  expect(row.after?.value).toBeCloseTo(0, 6);
  expect(Array.from(row.touching)).toEqual([1, 1, 1, 0, 0, 0]);
  expect(row.touches).toBe(3);
  expect(row.slid).toBeCloseTo(0, 6);
  // Off the ground there is no sliding to tell of.
  expect(Array.from(row.slides, Number.isNaN)).toEqual([true, false, false, true, true, true]);
});

test('sliding is told against the ground: along with a deck that moves nothing slides, on one that moves away all does', () => {
  const away = reportOf(quay([{ expression: 'frame * 0.1' }, -0.01, 0], [0, 0, 0])).rows[0];
  expect(away.slid).toBeCloseTo(0.5, 5);
  expect(away.slidMost?.value).toBeCloseTo(0.1, 5);
  const along = reportOf(quay([{ expression: 'frame * 0.1' }, -0.01, 0], moving('frame * 0.1'))).rows[0];
  expect([along.touches, along.slid]).toEqual([6, expect.closeTo(0, 5)]);
  const under = reportOf(quay([0, -0.01, 0], moving('frame * 0.1'))).rows[0];
  expect(under.slid).toBeCloseTo(0.5, 5);
  // Frames left out: the way from one that was looked at to the next.
  expect(reportOf(quay([{ expression: 'frame * 0.1' }, -0.01, 0], [0, 0, 0]), [1, 3, 6]).rows[0].slid).toBeCloseTo(0.5, 5);
});

test('frames without numbers are told and bridge nothing; beside the ground it is nowhere; without a ground there is no report', () => {
  const gap = reportOf(quay([{ expression: 'if(frame == 3, sqrt(-1), frame * 0.1)' }, -0.01, 0], [0, 0, 0]));
  expect(Array.from(gap.rows[0].slides, Number.isNaN)).toEqual([true, false, true, true, false, false]);
  expect(gap.rows[0].slid).toBeCloseTo(0.3, 5);
  const beside = reportOf(quay([30, 0, 0], [0, 0, 0])).rows[0];
  expect([beside.before, beside.after, beside.touches, beside.slidMost]).toEqual([null, null, 0, null]);
  expect(contactRefs(CATALOGUE, quay([0, 0, 0], [0, 0, 0], []), 'down')).toBeUndefined();
  expect(contactRefs(CATALOGUE, quay([0, 0, 0], [0, 0, 0]), 'grid')).toBeUndefined();
  expect(contactRefs(CATALOGUE, quay([0, 0, 0], [0, 0, 0]), 'nobody')).toBeUndefined();
});
