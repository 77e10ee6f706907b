import { engine } from '../engine/index.ts';
import { useStore } from '../state/store.ts';
import { Button } from '../ui/button.tsx';

/** Why the picture is not that of the document, over the page, with the ways on. */
export function Trouble() {
  const { trouble, tooLong } = useStore((s) => s.evaluation);
  if (!trouble) return null;
  return (
    <div
      role="alert"
      data-trouble
      className="fixed top-20 left-1/2 z-30 flex max-w-2xl -translate-x-1/2 items-center gap-3 rounded-md border border-rust bg-rust-wash px-4 py-2.5 text-rust"
    >
      <span className="select-text">{trouble}</span>
      {tooLong && (
        <Button
          look="framed"
          onClick={() => engine.goOn()}
          hint="Evaluate again, and let this graph take as long as it likes, now and later. It can be stopped at any time."
        >
          Go on
        </Button>
      )}
      <Button look="framed" onClick={() => engine.resume()} hint={tooLong ? 'Try once more within the same time' : undefined}>
        Evaluate
      </Button>
    </div>
  );
}
