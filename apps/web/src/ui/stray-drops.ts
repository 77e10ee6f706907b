import type { Store } from '../state/store.ts';
import { remarked } from '../state/ui-slice.ts';

const hasFiles = (event: DragEvent): boolean => event.dataTransfer?.types.includes('Files') ?? false;

/** Files that are dropped where no page takes them are refused in a sentence; the browser would open them in its place. */
export function refuseStrayDrops(store: Store): void {
  window.addEventListener('dragover', (event) => {
    if (hasFiles(event) && !event.defaultPrevented) event.preventDefault();
  });
  window.addEventListener('drop', (event) => {
    if (!hasFiles(event) || event.defaultPrevented) return;
    event.preventDefault();
    const text =
      'Files are not taken here. Drop meshes on Build, project files on the shelf; files with keys come in by the menu of the project on Build.';
    store.dispatch(remarked({ text, kind: 'wrong' }));
  });
}
