import { autocompletion, closeBrackets, completionKeymap, type CompletionContext } from '@codemirror/autocomplete';
import { defaultKeymap } from '@codemirror/commands';
import { HighlightStyle, StreamLanguage, syntaxHighlighting } from '@codemirror/language';
import { linter, type Diagnostic } from '@codemirror/lint';
import { Compartment, EditorState } from '@codemirror/state';
import { EditorView, keymap, placeholder } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { useEffect, useRef } from 'react';
import {
  ELEMENT_NAMES,
  EXPRESSION_FUNCTIONS,
  EXPRESSION_NAMES,
  FORMULA_FUNCTIONS,
  MOST_FORMULA_CHARACTERS,
  readFormula,
  type FormulaSource,
  type FormulaSurroundings,
} from '@umberfish/core';

export interface FormulaName {
  readonly name: string;
  readonly about: string;
}

interface Props {
  source: FormulaSource;
  around: FormulaSurroundings;
  /** Names that may be used besides functions, time and locals. */
  names: readonly FormulaName[];
  onChange(text: string): void;
  onEnd(): void;
  onTooLong(): void;
}

const isFunction = (name: string) => Object.hasOwn(EXPRESSION_FUNCTIONS, name) || Object.hasOwn(FORMULA_FUNCTIONS, name);
const FIXED: readonly string[] = [...EXPRESSION_NAMES, ...ELEMENT_NAMES];

const language = StreamLanguage.define({
  token(stream) {
    if (stream.match(/^\/\/.*/)) return 'comment';
    if (stream.match(/^(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?/)) return 'number';
    const word = stream.match(/^[\p{L}_][\p{L}\p{M}\p{N}_]*/u) as RegExpMatchArray | null;
    if (word) return isFunction(word[0]) ? 'keyword' : FIXED.includes(word[0]) ? 'atom' : 'variableName';
    stream.next();
    return 'operator';
  },
});

const colours = HighlightStyle.define([
  { tag: tags.comment, color: 'var(--ink-faint)', fontStyle: 'italic' },
  { tag: tags.number, color: 'var(--rust)' },
  { tag: tags.keyword, color: 'var(--umber)', fontWeight: '600' },
  { tag: tags.atom, color: 'var(--sea)' },
  { tag: tags.variableName, color: 'var(--ink)' },
  { tag: tags.operator, color: 'var(--ink-soft)' },
]);

const look = EditorView.theme({
  '&': {
    fontSize: '12.5px',
    backgroundColor: 'var(--paper-raised)',
    borderRadius: '4px',
    border: '1px solid var(--line-strong)',
  },
  '&.cm-focused': { outline: 'none', borderColor: 'var(--pick)' },
  '.cm-content': { fontFamily: 'var(--font-mono)', caretColor: 'var(--ink)', padding: '6px 0', minHeight: '58px' },
  '.cm-scroller': { lineHeight: '1.5', maxHeight: '240px', overflow: 'auto' },
  '.cm-line': { padding: '0 8px' },
  '.cm-cursor': { borderLeftColor: 'var(--ink)' },
  '.cm-placeholder': { color: 'var(--ink-faint)' },
  '&.cm-focused .cm-selectionBackground, .cm-selectionBackground': { background: 'var(--pick-wash) !important' },
  '.cm-tooltip': {
    background: 'var(--paper-raised)',
    border: '1px solid var(--line-strong)',
    color: 'var(--ink)',
    borderRadius: '4px',
    maxWidth: '340px',
    fontSize: '12px',
  },
  '.cm-tooltip.cm-tooltip-autocomplete > ul': { fontFamily: 'var(--font-mono)', maxHeight: '190px' },
  '.cm-tooltip.cm-tooltip-autocomplete > ul > li': { padding: '2px 8px' },
  '.cm-tooltip-autocomplete ul li[aria-selected]': { background: 'var(--paper-sunk)', color: 'var(--ink)' },
  '.cm-completionDetail': { color: 'var(--ink-faint)', fontStyle: 'normal', fontFamily: 'var(--font-sans)' },
  '.cm-completionMatchedText': { textDecoration: 'none', fontWeight: '600' },
  '.cm-completionInfo': { padding: '6px 8px', fontFamily: 'var(--font-sans)' },
  '.cm-lintRange-error': { backgroundImage: 'none', borderBottom: '2px solid var(--rust)' },
  '.cm-diagnostic-error': { borderLeft: '3px solid var(--rust)', padding: '4px 8px' },
});

/** Names that stand to the left of an equals sign so far. */
const localsOf = (text: string): string[] =>
  [...text.matchAll(/(?:^|[\n;])\s*([\p{L}_][\p{L}\p{M}\p{N}_]*)\s*=(?!=)/gu)].map((m) => m[1]);

function completions(context: CompletionContext, names: readonly FormulaName[]) {
  const word = context.matchBefore(/[\p{L}_][\p{L}\p{M}\p{N}_]*/u);
  if (!word && !context.explicit) return null;
  const functions = [...Object.entries(EXPRESSION_FUNCTIONS), ...Object.entries(FORMULA_FUNCTIONS)];
  const known = new Set(names.map((n) => n.name));
  return {
    from: word?.from ?? context.pos,
    validFor: /^\w*$/,
    options: [
      ...names.map((n) => ({ label: n.name, detail: n.about, boost: 3 })),
      ...localsOf(context.state.doc.toString())
        .filter((n) => !known.has(n))
        .map((label) => ({ label, detail: 'from a line above', boost: 2 })),
      ...FIXED.map((label) => ({ label, detail: FIXED_WORDS[label], boost: 1 })),
      ...functions.map(([label, f]) => ({
        label,
        detail: `(${f.takes.join(', ')})`,
        info: f.help,
        apply: `${label}(`,
      })),
    ],
  };
}

const FIXED_WORDS: Readonly<Record<string, string>> = {
  seconds: 'time, s',
  frame: 'frame number',
  fraction: 'of the range, 0 to 1',
  pi: '3.1416',
  e: '2.7183',
  index: 'number of the element',
  count: 'how many elements',
};

/** Where formulas are written: names are completed, syntax is coloured, what is wrong is underlined. */
export default function FormulaEditor(props: Props) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const now = useRef(props);
  now.current = props;

  useEffect(() => {
    if (!host.current) return;
    const lint = new Compartment();
    const state = EditorState.create({
      doc: now.current.source.text,
      extensions: [
        language,
        syntaxHighlighting(colours),
        look,
        closeBrackets(),
        autocompletion({ override: [(c) => completions(c, now.current.names)], icons: false }),
        keymap.of([...completionKeymap, ...defaultKeymap]),
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ 'aria-label': 'Formula', spellcheck: 'false' }),
        placeholder('position + normal * 0.1 * sin(seconds)'),
        lint.of(linter((v) => diagnose(v, now.current), { delay: 150 })),
        EditorState.changeFilter.of((t) => {
          if (t.newDoc.length <= MOST_FORMULA_CHARACTERS) return true;
          now.current.onTooLong();
          return false;
        }),
        EditorView.updateListener.of((u) => {
          if (u.docChanged) {
            const text = u.state.doc.toString();
            if (text !== now.current.source.text) now.current.onChange(text);
          }
          if (u.focusChanged && !u.view.hasFocus) now.current.onEnd();
        }),
      ],
    });
    const made = new EditorView({ state, parent: host.current });
    view.current = made;
    return () => made.destroy();
  }, []);

  // What came from elsewhere, such as an undo, replaces the text; names that came or went are checked again.
  const { text } = props.source;
  useEffect(() => {
    const v = view.current;
    if (v && v.state.doc.toString() !== text) v.dispatch({ changes: { from: 0, to: v.state.doc.length, insert: text } });
  }, [text]);
  return <div ref={host} data-formula onKeyDown={(e) => !e.ctrlKey && !e.metaKey && e.stopPropagation()} />;
}

function diagnose(view: EditorView, { source, around }: Props): Diagnostic[] {
  const text = view.state.doc.toString();
  const { length } = view.state.doc;
  return readFormula({ ...source, text }, around).problems.map((p) => ({
    from: Math.min(p.from, length),
    to: Math.min(Math.max(p.to, p.from + 1), length),
    severity: 'error',
    message: `The formula ${p.message}`,
  }));
}
