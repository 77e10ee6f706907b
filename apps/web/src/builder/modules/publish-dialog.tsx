import { versionWords, type ModuleRecord } from '@umberfish/core';
import { useState } from 'react';
import { Button } from '../../ui/button.tsx';
import { Modal } from '../../ui/modal.tsx';
import { publish, publishing } from './library-commands.ts';

/** Publishes a module to the library: its number follows from what changed. */
export function PublishDialog({ module, onClose }: { module: ModuleRecord; onClose(): void }) {
  const [note, setNote] = useState('');
  const { version, words, breaks, isSame } = publishing(module);
  return (
    <Modal
      open
      title={`Publish "${module.name}" ${versionWords(version)}`}
      about="A version in the library never changes. Projects hold the versions they use; they are told of newer ones."
      onClose={onClose}
    >
      <form
        data-publish={versionWords(version)}
        className="flex flex-col gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          onClose();
          void publish(module, note.trim());
        }}
      >
        <p className="leading-snug">{isSame ? 'It is as it was published last; there is nothing new to publish.' : words}</p>
        {breaks.length > 0 && (
          <p className="border-l-2 border-rust pl-2 leading-snug text-rust">
            That breaks uses, so it gets a new whole number. {breaks.join(' ')}
          </p>
        )}
        <label className="flex flex-col gap-1">
          <span className="text-soft">Note: what is new</span>
          <input
            autoFocus
            aria-label="Note"
            value={note}
            onChange={(e) => setNote(e.target.value)}
            className="h-8 rounded border border-line-strong bg-raised px-2 outline-none focus:border-pick"
          />
        </label>
        <div className="flex justify-end gap-2">
          <Button look="framed" onClick={onClose}>
            Cancel
          </Button>
          <Button
            look="strong"
            disabled={isSame}
            onClick={() => {
              onClose();
              void publish(module, note.trim());
            }}
          >
            Publish {versionWords(version)}
          </Button>
        </div>
      </form>
    </Modal>
  );
}
