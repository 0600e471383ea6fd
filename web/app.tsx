import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useState } from 'react';
import { Link, Navigate, Outlet, Route, Routes, useParams } from 'react-router';
import { Toaster } from 'sonner';
import { useLive } from './api/live.ts';
import { productionQuery, productionsQuery } from './api/queries.ts';
import { CommandBox } from './ui/commandBox.tsx';
import { KeysDialog, useKeys } from './ui/keys.tsx';
import { Key, Loading, ProblemNote, problemOf } from './ui/pieces.tsx';
import { useTheme } from './ui/theme.ts';
import { Track } from './ui/track.tsx';
import { Wire } from './ui/wire.tsx';

const Productions = lazy(() => import('./productions/page.tsx').then((m) => ({ default: m.ProductionsPage })));
const Arrivals = lazy(() => import('./arrivals/page.tsx').then((m) => ({ default: m.ArrivalsPage })));
const Clips = lazy(() => import('./clips/page.tsx').then((m) => ({ default: m.ClipsPage })));
const Clip = lazy(() => import('./clips/clip.tsx').then((m) => ({ default: m.ClipPage })));
const Report = lazy(() => import('./arrivals/report.tsx').then((m) => ({ default: m.ReportPage })));
const BenchStart = lazy(() => import('./bench/start.tsx').then((m) => ({ default: m.BenchStart })));
const Bench = lazy(() => import('./bench/page.tsx').then((m) => ({ default: m.BenchPage })));
const Cabinet = lazy(() => import('./cabinet/page.tsx').then((m) => ({ default: m.CabinetPage })));
const Recipes = lazy(() => import('./recipes/page.tsx').then((m) => ({ default: m.RecipesPage })));
const Burn = lazy(() => import('./burn/page.tsx').then((m) => ({ default: m.BurnPage })));
const Runs = lazy(() => import('./runs/page.tsx').then((m) => ({ default: m.RunsPage })));
const Run = lazy(() => import('./runs/run.tsx').then((m) => ({ default: m.RunPage })));
const Checks = lazy(() => import('./checks/page.tsx').then((m) => ({ default: m.ChecksPage })));
const Compare = lazy(() => import('./checks/compare.tsx').then((m) => ({ default: m.ComparePage })));
const Site = lazy(() => import('./site/page.tsx').then((m) => ({ default: m.SitePage })));
const Handoffs = lazy(() => import('./handoffs/page.tsx').then((m) => ({ default: m.HandoffsPage })));

export function App() {
  useLive();
  const [theme, toggleTheme] = useTheme();
  const [keysOpen, setKeysOpen] = useState(false);
  useKeys({ '?': () => setKeysOpen(true), t: toggleTheme, T: toggleTheme });
  return (
    <div className="flex h-full flex-col">
      <Routes>
        <Route path="/" element={<FirstPage />} />
        <Route
          path="/productions"
          element={
            <Bare>
              <Productions />
            </Bare>
          }
        />
        <Route
          path="/site"
          element={
            <Bare>
              <Site />
            </Bare>
          }
        />
        <Route path="/p/:production" element={<ProductionFrame />}>
          <Route index element={<Navigate to="clips" replace />} />
          <Route path="arrivals" element={<Arrivals />} />
          <Route path="arrivals/report" element={<Report />} />
          <Route path="clips" element={<Clips />} />
          <Route path="clips/:clip" element={<Clip />} />
          <Route path="bench" element={<BenchStart />} />
          <Route path="bench/:clip" element={<Bench />} />
          <Route path="cabinet" element={<Cabinet />} />
          <Route path="cabinet/:lut" element={<Cabinet />} />
          <Route path="recipes" element={<Recipes />} />
          <Route path="recipes/:recipe" element={<Recipes />} />
          <Route path="recipes/:recipe/burn" element={<Burn />} />
          <Route path="runs" element={<Runs />} />
          <Route path="runs/:run" element={<Run />} />
          <Route path="checks" element={<Checks />} />
          <Route path="checks/:output" element={<Compare />} />
          <Route path="handoffs" element={<Handoffs />} />
        </Route>
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
      <Wire theme={theme} onTheme={toggleTheme} onKeys={() => setKeysOpen(true)} />
      <KeysDialog open={keysOpen} onOpenChange={setKeysOpen} />
      <Toaster theme={theme === 'dark' ? 'dark' : 'light'} position="bottom-left" offset={44} />
    </div>
  );
}

/** The first page is the one production when there is just one: that is where the work is. */
function FirstPage() {
  const { data } = useQuery(productionsQuery);
  const only = data?.length === 1 ? data[0] : undefined;
  return only ? (
    <Navigate to={`/p/${only.id}/clips`} replace />
  ) : (
    <Bare>
      <Productions />
    </Bare>
  );
}

function Mark() {
  return (
    <Link to="/productions" aria-label="All productions" className="shrink-0">
      <svg
        viewBox="0 0 26 18"
        className="h-[18px] w-[26px]"
        fill="none"
        stroke="var(--faint)"
        strokeWidth="1.6"
        strokeLinecap="round"
        aria-hidden
      >
        <path d="M3 3h20M3 9h20M3 15h20" />
        <rect x="10.5" y="5.8" width="13" height="6.4" rx="3.2" fill="var(--clay)" stroke="none" />
      </svg>
    </Link>
  );
}

function Bare({ children }: { children: React.ReactNode }) {
  return (
    <>
      <header className="flex h-14 shrink-0 items-center gap-4 border-b border-line px-5">
        <Mark />
        <h1 className="text-[15px] font-semibold">Brisk Relay</h1>
      </header>
      <main className="min-h-0 flex-1 overflow-auto bg-sheet">
        <Suspense fallback={<Loading what="The page" />}>{children}</Suspense>
      </main>
    </>
  );
}

function ProductionFrame() {
  const { production = '' } = useParams();
  const { data, error, refetch } = useQuery(productionQuery(production));
  const [boxOpen, setBoxOpen] = useState(false);
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      if (event.key.toLowerCase() !== 'k' || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      setBoxOpen((open) => !open);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
  useEffect(() => {
    document.title = data ? `${data.name} · Brisk Relay` : 'Brisk Relay';
  }, [data]);
  return (
    <>
      <header className="flex h-14 shrink-0 items-end gap-4 pl-5 print:hidden">
        <div className="flex h-14 w-52 min-w-0 shrink items-center gap-4">
          <Mark />
          <span className="truncate text-[15px] font-semibold">{data?.name ?? ''}</span>
        </div>
        <Track production={data} />
        <div className="flex h-14 items-center pr-5">
          <button
            type="button"
            onClick={() => setBoxOpen(true)}
            className="flex h-8 items-center gap-4 rounded-md border border-line px-3 text-faint hover:text-ink"
          >
            Go to… <Key>Ctrl K</Key>
          </button>
        </div>
      </header>
      <main className="flex min-h-0 flex-1 bg-sheet">
        {error ? (
          <ProblemNote problem={problemOf(error)} again={() => void refetch()} />
        ) : (
          <Suspense
            fallback={
              <div className="flex-1">
                <Loading what="The page" />
              </div>
            }
          >
            <Outlet />
          </Suspense>
        )}
      </main>
      <CommandBox open={boxOpen} onOpenChange={setBoxOpen} production={production} />
    </>
  );
}
