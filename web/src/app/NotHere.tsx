import { isRouteErrorResponse, Link, useRouteError } from 'react-router';
import { Button } from '../ui/Button.tsx';

/** For addresses that lead nowhere, and for a page that broke: says so and shows the way back. */
export function NotHere() {
  const error = useRouteError();
  const isBroken = error !== undefined && error !== null && !isRouteErrorResponse(error);
  return (
    <main className="mx-auto max-w-xl p-10">
      <h1 className="text-[22px] leading-7 font-semibold">
        {isBroken ? 'This page stopped working' : 'There is nothing at this address'}
      </h1>
      <p className="mt-2">
        {isBroken
          ? 'What you wrote is kept in this browser. Load the page again. If it happens again, tell the person who runs this server what stands below.'
          : 'The document may have been removed, or the address was cut short.'}
      </p>
      {isBroken && (
        // For whoever runs the server: without its words nobody can find what broke.
        <p className="mt-2 font-mono text-[12px] break-words text-muted">
          {error instanceof Error ? error.message : String(error)}
        </p>
      )}
      <p className="mt-4 flex items-center gap-4">
        {isBroken && <Button onClick={() => window.location.reload()}>Load the page again</Button>}
        <Link to="/" reloadDocument={isBroken} className="underline">
          To the desk
        </Link>
      </p>
    </main>
  );
}
