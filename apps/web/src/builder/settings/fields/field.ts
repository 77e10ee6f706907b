import type { GraphRecord, NodeRecord, Setting, SettingValue } from '@umberfish/core';
import type { ComponentType } from 'react';

type TypeOf = Setting['type'];
export type SettingOf<T extends TypeOf> = Extract<Setting, { type: T }>;

/** What the field of a setting is given. */
export interface FieldProps<T extends TypeOf> {
  readonly graph: GraphRecord;
  readonly node: NodeRecord;
  readonly setting: SettingOf<T>;
  readonly value: SettingValue;
  /** Changes it; changes of one gesture are one step back. */
  write(value: SettingValue, gesture?: string | null): void;
}

/** How a type of setting is edited. */
export interface SettingEditor<T extends TypeOf> {
  readonly field: ComponentType<FieldProps<T>>;
  /** Brings a label of its own and takes the whole width; left out: it stands beside its label. */
  readonly alone?: boolean;
  /** Commands write it, or there is no standard: nothing to go back to. */
  readonly worked?: boolean;
}
