import { SECTION_TINTS, type GraphRecord, type SectionRecord, changeSection, removeSection } from '@umberfish/core';
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, store, useSend } from '../../state/store.ts';
import { nodesPicked } from '../../state/ui-slice.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { Switch } from '../../ui/switch.tsx';
import { TextField } from '../../ui/text-field.tsx';
import { FieldRow } from './field-row.tsx';

const TINTS = SECTION_TINTS.map((value) => ({ value, label: `${value[0].toUpperCase()}${value.slice(1)}` }));

/** Title, note and tint of a section. */
export function SectionSettings({ graph, section }: { graph: GraphRecord; section: SectionRecord }) {
  const send = useSend();
  const change = (label: string, part: Partial<SectionRecord>, gesture: string | null = null) =>
    applyEdit(label, changeSection(graph.id, section.id, part), gesture);
  return (
    <div className="flex flex-col gap-1.5" data-settings-of={section.id}>
      <TextField
        label="Title"
        value={section.title}
        onChange={(title) => change('Rename section', { title })}
        className="!border-transparent !bg-transparent !px-0 font-serif text-sm font-semibold hover:!border-line-strong"
      />
      <label className="text-soft">
        Note
        <textarea
          value={section.note}
          rows={5}
          maxLength={5000}
          placeholder="What it does, and why it is done this way"
          onChange={(e) => change('Write note', { note: e.target.value }, `note ${section.id}`)}
          onBlur={() => store.dispatch(gestureEnded())}
          onKeyDown={(e) => !e.ctrlKey && !e.metaKey && e.stopPropagation()}
          className="mt-1 block w-full resize-y rounded border border-line-strong bg-raised px-2 py-1 leading-snug text-ink outline-none focus:border-pick"
        />
      </label>
      <FieldRow label="Tint" help="The wash behind the cards.">
        <Choice
          label="Tint"
          value={section.tint}
          options={TINTS}
          onChange={(tint) => change('Tint section', { tint: tint as SectionRecord['tint'] })}
        />
      </FieldRow>
      <FieldRow label="Folded" help="Shows the whole section as one small card.">
        <Switch
          label="Folded"
          checked={section.folded}
          onChange={(folded) => change(folded ? 'Fold section' : 'Unfold section', { folded })}
        />
      </FieldRow>
      <p className="text-xs leading-snug text-soft">
        {section.nodes.length} {section.nodes.length === 1 ? 'node' : 'nodes'}. Drag a card into the box to add it.
      </p>
      <div className="mt-1 flex flex-wrap gap-1.5">
        <Button look="framed" onClick={() => send(nodesPicked([...section.nodes]))}>
          Pick its nodes
        </Button>
        <Button
          look="framed"
          hint="Takes the box away; the nodes stay"
          onClick={() => {
            applyEdit('Remove section', removeSection(graph.id, section.id));
            send(nodesPicked([]));
          }}
        >
          Remove box
        </Button>
      </div>
    </div>
  );
}
