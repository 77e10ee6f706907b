import type { Dials, ModuleFile } from '@umberfish/core';
import { useEffect, useState } from 'react';

import { InsideMap } from './inside-map.tsx';
import { keyOf, PICTURE_FRAME } from './looking.ts';

interface Props {
  file: ModuleFile;
  dials?: Dials;
  frame?: number;
  /** A point of it that is marked. */
  marked?: number;
  className?: string;
}

const AS_IT_COMES: Dials = {};

/** A picture of a module's example; until it is made, or where there is none, a drawing of what is inside. */
export function ModulePicture({ file, dials = AS_IT_COMES, frame = PICTURE_FRAME, marked, className = '' }: Props) {
  const [made, setMade] = useState<{ of: string; address: string | null } | null>(null);
  const of = JSON.stringify([keyOf(file), dials, frame, marked]);
  useEffect(() => {
    let gone = false;
    // What draws is fetched with the first picture.
    import('./pictures.ts')
      .then(({ pictureOf }) => pictureOf(file, dials, frame, marked))
      .then(
        (address) => !gone && setMade({ of, address }),
        () => !gone && setMade({ of, address: null }),
      );
    return () => {
      gone = true;
    };
    // What is shown is said by its name.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [of]);
  const address = made?.of === of ? made.address : null;
  const state = made?.of !== of ? 'making' : address === null ? 'none' : 'made';
  return (
    <span
      data-picture={state}
      className={`block overflow-hidden bg-linear-to-b from-[var(--stage-high)] to-[var(--stage-low)] ${className}`}
    >
      {address === null ? (
        <InsideMap graph={file.module.graph} className={`size-full p-3 ${state === 'making' ? 'opacity-40' : ''}`} />
      ) : (
        <img src={address} alt={`The example of ${file.module.name}`} className="size-full object-cover" />
      )}
    </span>
  );
}
