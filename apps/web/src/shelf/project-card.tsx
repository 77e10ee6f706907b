import { MoreHorizontal } from 'lucide-react';
import { Menu } from '../ui/menu.tsx';

interface Props {
  name: string;
  about: string;
  thumbnail: string | null;
  onOpen(): void;
  menu: { label: string; onSelect(): void }[];
}

/** A project on the shelf: its picture, its name, and what can be done with it. */
export function ProjectCard({ name, about, thumbnail, onOpen, menu }: Props) {
  return (
    <article className="overflow-hidden rounded-md border border-line bg-raised hover:border-line-strong">
      <button
        type="button"
        onClick={onOpen}
        aria-label={`Open ${name}`}
        className="block aspect-[16/10] w-full overflow-hidden bg-gradient-to-b from-[var(--stage-high)] to-[var(--stage-low)]"
      >
        {thumbnail ? (
          <img src={thumbnail} alt="" className="size-full object-cover" />
        ) : (
          <span className="text-faint">No picture yet</span>
        )}
      </button>
      <div className="flex items-center justify-between gap-2 border-t border-line px-3 py-2.5">
        <button type="button" onClick={onOpen} className="min-w-0 text-left">
          <h2 className="truncate font-serif text-[15px] font-semibold">{name}</h2>
          <p className="truncate text-xs text-soft">{about}</p>
        </button>
        {menu.length > 0 && (
          <Menu
            align="end"
            trigger={
              <button type="button" aria-label={`More for ${name}`} className="rounded p-1 text-soft hover:bg-sunk">
                <MoreHorizontal size={16} />
              </button>
            }
            items={menu}
          />
        )}
      </div>
    </article>
  );
}
