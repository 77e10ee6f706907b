import { useState } from 'react';
import { FRAME_LIMIT, type Project } from '@umberfish/core';
import { engine } from '../../engine/index.ts';
import { memoryInGigabytes } from '../../engine/memory.ts';
import { applyEdit } from '../../state/store.ts';
import { NumberField } from '../../ui/number-field.tsx';
import { TextField } from '../../ui/text-field.tsx';
import { FieldRow } from './field-row.tsx';

/** How much of what was computed is kept; the least recently used goes first. */
function Memory() {
  const [gigabytes, setGigabytes] = useState(memoryInGigabytes);
  return (
    <FieldRow label="Memory" help="How much results may take in this browser; the least recently used go first.">
      <NumberField
        label="Memory for results"
        unit="GB"
        value={gigabytes}
        range={{ min: 0.1, max: 16, hard: true }}
        onChange={(v) => {
          if (typeof v !== 'number') return;
          setGigabytes(v);
          engine.setMemory(v);
        }}
      />
    </FieldRow>
  );
}

/** Name, frame rate and range of the project; and what to do when nothing is picked. */
export function ProjectSettings({ project }: { project: Project }) {
  const change = (label: string, part: Partial<Project>) => applyEdit(label, (p) => ({ ...p, ...part }));
  const { range } = project;
  return (
    <div className="flex flex-col gap-1.5">
      <h2 className="mb-1 font-serif text-sm font-semibold">Project</h2>
      <FieldRow label="Name">
        <TextField
          label="Project name"
          value={project.name}
          onChange={(name) => name.trim() && change('Rename project', { name: name.trim() })}
        />
      </FieldRow>
      <FieldRow label="Rate" help="Frames per second; expressions see seconds = frame / rate.">
        <NumberField
          label="Frame rate"
          unit="fps"
          value={project.frameRate}
          range={{ min: 1, max: 240, hard: true }}
          onChange={(v) => typeof v === 'number' && change('Frame rate', { frameRate: v })}
        />
      </FieldRow>
      <FieldRow label="First" help="First frame of the range.">
        <NumberField
          label="First frame"
          whole
          range={{ min: -FRAME_LIMIT, max: range.last, hard: true }}
          value={range.first}
          onChange={(v) => typeof v === 'number' && change('Range', { range: { ...range, first: v } })}
        />
      </FieldRow>
      <FieldRow label="Last" help="Last frame of the range.">
        <NumberField
          label="Last frame"
          whole
          range={{ min: range.first, max: FRAME_LIMIT, hard: true }}
          value={range.last}
          onChange={(v) => typeof v === 'number' && change('Range', { range: { ...range, last: v } })}
        />
      </FieldRow>
      <Memory />
      <p className="mt-2 border-l-2 border-line-strong bg-sunk px-2 py-1.5 text-xs leading-snug text-soft">
        Pick a node, an output or an object to see what it holds. Ctrl K adds nodes and runs commands.
      </p>
    </div>
  );
}
