import { lazy, Suspense } from 'react';
import type { FieldProps, SettingEditor } from './field.ts';

const WaysField = lazy(() => import('./ways-field.tsx').then((m) => ({ default: m.WaysField })));

/** The field of ways comes when a wall of a module is picked. */
const LazyWays = (props: FieldProps<'ways'>) => (
  <Suspense fallback={<p className="text-soft">Opening…</p>}>
    <WaysField {...props} />
  </Suspense>
);

export const waysEditor: SettingEditor<'ways'> = { field: LazyWays, alone: true };
