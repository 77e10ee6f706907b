import { lazy, Suspense } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { Link, Route, Routes } from 'react-router';
import { Shelf } from './shelf/shelf.tsx';
import { Remark } from './ui/remark.tsx';

const BuildPage = lazy(() => import('./build/build-page.tsx'));

export function App() {
  return (
    <ErrorBoundary FallbackComponent={Broken}>
      <Suspense fallback={<p className="p-8 text-soft">Opening…</p>}>
        <Routes>
          <Route path="/" element={<Shelf />} />
          <Route path="/p/:id/build" element={<BuildPage />} />
          <Route path="*" element={<Nowhere />} />
        </Routes>
      </Suspense>
      <Remark />
    </ErrorBoundary>
  );
}

function Nowhere() {
  return (
    <main className="grid h-full place-content-center gap-3 text-center">
      <h1 className="font-serif text-xl">There is no such page</h1>
      <Link to="/" className="text-umber underline">
        Back to the shelf
      </Link>
    </main>
  );
}

function Broken({ error }: { error: unknown }) {
  return (
    <main className="grid h-full place-content-center gap-3 text-center">
      <h1 className="font-serif text-xl">The page broke</h1>
      <p className="max-w-md text-soft">
        {error instanceof Error ? error.message : String(error)} Your edits up to a moment ago are saved in
        this browser.
      </p>
      <a href="/" className="text-umber underline">
        Open the shelf again
      </a>
    </main>
  );
}
