import type { Person } from '@tether/contract';
import { Suspense } from 'react';
import { NavLink, Outlet } from 'react-router';
import {
  faultOf,
  forgetAll,
  useDemoPeopleQuery,
  useMeQuery,
  useSignOutMutation,
} from '../state/api.ts';
import { useAppDispatch, useAppSelector } from '../state/store.ts';
import { useLiveEvents } from '../state/useLiveEvents.ts';
import { FaultNote } from '../ui/FaultNote.tsx';
import { Wordmark } from '../ui/Wordmark.tsx';
import { SignIn } from './SignIn.tsx';

/** Frame of every page: asks who is here, then shows the way around and the page. */
export function Shell() {
  const { data: me, error, isLoading } = useMeQuery();
  if (isLoading) return null;
  if (error && faultOf(error).code === 'not-signed-in') return <SignIn />;
  if (!me) {
    return (
      <main className="mx-auto max-w-xl p-8">
        <FaultNote fault={faultOf(error)} />
      </main>
    );
  }
  return <SignedIn me={me} />;
}

function SignedIn({ me }: { me: Person }) {
  useLiveEvents();
  const { name, title } = me;
  const { data: demoPeople = [] } = useDemoPeopleQuery();
  const { isLive, hasDatabase } = useAppSelector(({ connection }) => connection);
  const [signOut] = useSignOutMutation();
  const dispatch = useAppDispatch();
  const leave = async () => {
    await signOut();
    forgetAll(dispatch);
  };
  return (
    <div className="flex h-full flex-col print:block print:h-auto">
      <a
        href="#page"
        className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-white focus:p-2"
      >
        Skip to the page
      </a>
      <header className="not-printed flex h-10 shrink-0 items-center gap-6 border-b border-hairline bg-white px-4">
        <NavLink to="/" aria-label="Obedient Tether, to the desk" className="flex">
          <Wordmark />
        </NavLink>
        <nav aria-label="Main" className="flex gap-1">
          <Way to="/">Desk</Way>
          <Way to="/sources">Sources</Way>
          <Way to="/ledger">Ledger</Way>
          <Way to="/log">Log</Way>
        </nav>
        <span role="status" className="ml-auto text-adrift">
          {!isLive
            ? 'The server cannot be reached, trying again …'
            : hasDatabase
              ? ''
              : 'The server has lost its database, trying again …'}
        </span>
        {demoPeople.length > 0 && me.role !== 'viewer' && (
          <NavLink to="/office" className="text-muted underline hover:text-deep">
            The office outside
          </NavLink>
        )}
        <span className="text-muted">
          <span className="font-semibold text-ink">{name}</span>, {title.toLowerCase()}
        </span>
        <button type="button" className="underline hover:text-deep" onClick={() => void leave()}>
          Sign out
        </button>
      </header>
      <div id="page" className="min-h-0 flex-1">
        <Suspense fallback={null}>
          <Outlet />
        </Suspense>
      </div>
    </div>
  );
}

function Way({ to, children }: { to: string; children: string }) {
  return (
    <NavLink
      to={to}
      end={to === '/'}
      className={({ isActive }) =>
        `border-b-2 px-2 py-[9px] leading-5 ${isActive ? 'border-rope font-semibold' : 'border-transparent text-muted hover:text-ink'}`
      }
    >
      {children}
    </NavLink>
  );
}
