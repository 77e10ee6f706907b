import { Link } from 'react-router';

/** Why a project cannot be opened, with a way back. */
export const MissingProject = ({ why }: { why: string }) => (
  <main className="grid h-full place-content-center gap-3 text-center">
    <h1 className="font-serif text-xl">This project cannot be opened</h1>
    <p className="max-w-md text-soft">{why}</p>
    <Link to="/" className="text-umber underline">
      Back to the shelf
    </Link>
  </main>
);
