import type { RefObject } from 'react';

interface Props {
  /** Opened by a click on it, from elsewhere. */
  picker: RefObject<HTMLInputElement | null>;
  name?: string;
  accept: string;
  multiple?: boolean;
  onFiles(files: readonly File[]): void;
}

/** A field for files that is not seen. The same file can be chosen again. */
export const FilePicker = ({ picker, name, accept, multiple = false, onFiles }: Props) => (
  <input
    ref={picker}
    type="file"
    hidden
    data-picker={name}
    multiple={multiple}
    accept={accept}
    onChange={(e) => {
      const files = [...(e.target.files ?? [])];
      e.target.value = '';
      if (files.length > 0) onFiles(files);
    }}
  />
);
