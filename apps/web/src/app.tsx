import { lazy, Suspense } from 'react';
import { createBrowserRouter, Link, Outlet, RouterProvider, useRouteError } from 'react-router';
import { Shelf } from './shelf/shelf.tsx';
import { Remark } from './ui/remark.tsx';

const LibraryPage = lazy(() => import('./library/library-page.tsx'));
const BuildPage = lazy(() => import('./builder/build-page.tsx'));
const AnimatePage = lazy(() => import('./animator/animate-page.tsx'));

const router = createBrowserRouter([
  {
    element: <Page />,
    errorElement: <Broken />,
    children: [
      { path: '/', element: <Shelf /> },
      { path: '/p/:id/build', element: <BuildPage /> },
      { path: '/p/:id/animate', element: <AnimatePage /> },
      { path: '/modules', element: <LibraryPage /> },
      { path: '*', element: <Nowhere /> },
    ],
  },
]);

export const App = () => <RouterProvider router={router} />;

function Page() {
  return (
    <>
      <Suspense fallback={<p className="p-8 text-soft">Opening…</p>}>
        <Outlet />
      </Suspense>
      <Remark />
    </>
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

function Broken() {
  const error = useRouteError();
  return (
    <main className="grid h-full place-content-center gap-3 text-center">
      <h1 className="font-serif text-xl">The page broke</h1>
      <p className="max-w-md text-soft">
        {error instanceof Error ? error.message : String(error)} Your edits up to a moment ago are saved in this browser.
      </p>
      <a href="/" className="text-umber underline">
        Open the shelf again
      </a>
    </main>
  );
}
