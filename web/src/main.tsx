import '@fontsource-variable/bricolage-grotesque';
import '@fontsource-variable/source-sans-3';
import '@fontsource-variable/source-sans-3/wght-italic.css';
import '@fontsource/bricolage-grotesque/600.css';
import '@fontsource/source-serif-4/400.css';
import '@fontsource/source-serif-4/600.css';
import '@fontsource/source-serif-4/700.css';
import '@fontsource/source-serif-4/400-italic.css';
import '@fontsource/source-serif-4/700-italic.css';
import '@fontsource/source-sans-3/400.css';
import '@fontsource/source-sans-3/700.css';
import '@fontsource/source-sans-3/400-italic.css';
import '@fontsource/source-sans-3/700-italic.css';
import '@fontsource-variable/jetbrains-mono';
import '@fontsource/jetbrains-mono/400.css';
import '@fontsource/carlito/400.css';
import '@fontsource/carlito/700.css';
import '@fontsource/carlito/400-italic.css';
import '@fontsource/carlito/700-italic.css';
import '@fontsource/arimo/400.css';
import '@fontsource/arimo/700.css';
import '@fontsource/arimo/400-italic.css';
import '@fontsource/arimo/700-italic.css';
import './index.css';
import { lazy, StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { createBrowserRouter, RouterProvider } from 'react-router';
import { NotHere } from './app/NotHere.tsx';
import { Shell } from './app/Shell.tsx';
import { Desk } from './desk/Desk.tsx';
import { store } from './state/store.ts';

const Workbench = lazy(() => import('./workbench/Workbench.tsx'));
const PrintRoute = lazy(() => import('./workbench/PrintRoute.tsx'));
const PresentRoute = lazy(() => import('./workbench/PresentRoute.tsx'));
const Sources = lazy(() => import('./sources/Sources.tsx'));
const Ledger = lazy(() => import('./ledger/Ledger.tsx'));
const Office = lazy(() => import('./office/Office.tsx'));
const Log = lazy(() => import('./log/Log.tsx'));

const router = createBrowserRouter([
  {
    element: <Shell />,
    errorElement: <NotHere />,
    children: [
      { path: '/', element: <Desk /> },
      { path: '/documents/:id', element: <Workbench /> },
      { path: '/documents/:id/print', element: <PrintRoute /> },
      { path: '/documents/:id/present', element: <PresentRoute /> },
      { path: '/sources/:id?', element: <Sources /> },
      { path: '/ledger', element: <Ledger /> },
      { path: '/log', element: <Log /> },
      { path: '/office', element: <Office /> },
      { path: '*', element: <NotHere /> },
    ],
  },
]);

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Provider store={store}>
      <RouterProvider router={router} />
    </Provider>
  </StrictMode>,
);
