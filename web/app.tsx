import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useState, type ReactNode } from 'react';
import { Link, Navigate, Outlet, Route, Routes, useParams } from 'react-router';
import { Toaster } from 'sonner';
import { useLive } from './api/live.ts';
import { productionQuery, productionsQuery } from './api/queries.ts';
import { DropZone, useDropsStay } from './productions/dropZone.tsx';
import { CommandBox } from './ui/commandBox.tsx';
import { dialogIsOpen, useKeys } from './ui/keys.ts';
import { blocks, Key, Loading, ProblemNote, problemOf } from './ui/pieces.tsx';
import { SkipLink, Station } from './ui/station.tsx';
import { StationBoundary } from './ui/stationBoundary.tsx';
import { useTheme } from './ui/theme.ts';
import { Track } from './ui/track.tsx';
import { useUndoKey } from './ui/undo.ts';
import { Wire } from './ui/wire.tsx';

const Productions = lazy(() => import('./productions/page.tsx').then((m) => ({ default: m.ProductionsPage })));
const Arrivals = lazy(() => import('./arrivals/page.tsx').then((m) => ({ default: m.ArrivalsPage })));
const Clips = lazy(() => import('./clips/page.tsx').then((m) => ({ default: m.ClipsPage })));
const Clip = lazy(() => import('./clips/clip.tsx').then((m) => ({ default: m.ClipPage })));
const Originals = lazy(() => import('./originals/page.tsx').then((m) => ({ default: m.OriginalsPage })));
const Space = lazy(() => import('./space/page.tsx').then((m) => ({ default: m.SpacePage })));
const Inlets = lazy(() => import('./inlets/page.tsx').then((m) => ({ default: m.InletsPage })));
const Report = lazy(() => import('./arrivals/report.tsx').then((m) => ({ default: m.ReportPage })));
const BenchStart = lazy(() => import('./bench/start.tsx').then((m) => ({ default: m.BenchStart })));
const Bench = lazy(() => import('./bench/page.tsx').then((m) => ({ default: m.BenchPage })));
const Cabinet = lazy(() => import('./cabinet/page.tsx').then((m) => ({ default: m.CabinetPage })));
const Recipes = lazy(() => import('./recipes/page.tsx').then((m) => ({ default: m.RecipesPage })));
const Burn = lazy(() => import('./burn/page.tsx').then((m) => ({ default: m.BurnPage })));
const Runs = lazy(() => import('./runs/page.tsx').then((m) => ({ default: m.RunsPage })));
const Run = lazy(() => import('./runs/run.tsx').then((m) => ({ default: m.RunPage })));
const Checks = lazy(() => import('./checks/page.tsx').then((m) => ({ default: m.ChecksPage })));
const Sizes = lazy(() => import('./checks/sizes.tsx').then((m) => ({ default: m.SizesPage })));
const Along = lazy(() => import('./checks/along.tsx').then((m) => ({ default: m.AlongPage })));
const CheckSheet = lazy(() => import('./checks/checkSheet.tsx').then((m) => ({ default: m.CheckSheetPage })));
const ContactSheet = lazy(() => import('./checks/contactSheet.tsx').then((m) => ({ default: m.ContactSheetPage })));
const Compare = lazy(() => import('./checks/compare.tsx').then((m) => ({ default: m.ComparePage })));
const Site = lazy(() => import('./site/page.tsx').then((m) => ({ default: m.SitePage })));
const HowDialog = lazy(() => import('./how/dialog.tsx').then((m) => ({ default: m.HowDialog })));
const Handoffs = lazy(() => import('./handoffs/page.tsx').then((m) => ({ default: m.HandoffsPage })));

const Handed = lazy(() => import('./handoffs/handed.tsx').then((m) => ({ default: m.HandedPage })));
const Cut = lazy(() => import('./cuts/page.tsx').then((m) => ({ default: m.CutPage })));

interface Place {
  path: string;
  name: string;
  page: ReactNode;
  /** Whether the page writes its own first heading. */
  headed?: boolean;
}

/** The pages of a production. */
const places: readonly Place[] = [
  { path: 'arrivals', name: 'Arrivals', page: <Arrivals /> },
  { path: 'arrivals/originals', name: 'Originals', page: <Originals /> },
  { path: 'arrivals/inlets', name: 'Inlets', page: <Inlets /> },
  { path: 'arrivals/report', name: 'Camera report', page: <Report /> },
  { path: 'clips', name: 'Clips', page: <Clips /> },
  { path: 'clips/:clip', name: 'Clip', page: <Clip /> },
  { path: 'bench', name: 'Bench', page: <BenchStart />, headed: true },
  { path: 'bench/:clip', name: 'Bench', page: <Bench />, headed: true },
  { path: 'cabinet', name: 'LUT cabinet', page: <Cabinet />, headed: true },
  { path: 'cabinet/:lut', name: 'LUT cabinet', page: <Cabinet />, headed: true },
  { path: 'recipes', name: 'Recipes', page: <Recipes /> },
  { path: 'recipes/:recipe', name: 'Recipes', page: <Recipes /> },
  { path: 'recipes/:recipe/burn', name: 'Burn-in', page: <Burn />, headed: true },
  { path: 'runs', name: 'Runs', page: <Runs /> },
  { path: 'runs/:run', name: 'Run', page: <Run />, headed: true },
  { path: 'runs/:run/check-sheet', name: 'Check sheet', page: <CheckSheet />, headed: true },
  { path: 'runs/:run/contact-sheet', name: 'Contact sheet', page: <ContactSheet />, headed: true },
  { path: 'checks', name: 'Checks', page: <Checks /> },
  { path: 'checks/sizes', name: 'Sizes', page: <Sizes /> },
  { path: 'checks/:output', name: 'Compare', page: <Compare />, headed: true },
  { path: 'checks/:output/along', name: 'Along its length', page: <Along />, headed: true },
  { path: 'handoffs', name: 'Hand-offs', page: <Handoffs /> },
  { path: 'handoffs/space', name: 'Space', page: <Space /> },
  { path: 'handoffs/:handoff', name: 'Hand-off', page: <Handed />, headed: true },
  { path: 'handoffs/cuts/:version', name: 'Cut', page: <Cut />, headed: true },
];

/** A page of a production under its name. */
function InProduction({ name, page, headed }: Omit<Place, 'path'>) {
  const { production = '' } = useParams();
  const { data } = useQuery(productionQuery(production));
  return (
    <Station name={name} within={data?.name} {...(headed === undefined ? {} : { headed })}>
      {page}
    </Station>
  );
}

export function App() {
  useLive();
  const [theme, toggleTheme] = useTheme();
  const [keysOpen, setKeysOpen] = useState(false);
  useUndoKey();
  useDropsStay();
  useKeys({ '?': () => setKeysOpen(true), t: toggleTheme });
  return (
    <div className="flex h-full flex-col">
      <SkipLink />
      <Routes>
        <Route path="/" element={<FirstPage />} />
        <Route
          path="/productions"
          element={
            <Bare name="Productions">
              <Productions />
            </Bare>
          }
        />
        <Route
          path="/site"
          element={
            <Bare name="Site" headed>
              <Site />
            </Bare>
          }
        />
        <Route path="/p/:production" element={<ProductionFrame />}>
          <Route index element={<Navigate to="clips" replace />} />
          {places.map(({ path, name, page, headed }) => (
            <Route key={path} path={path} element={<InProduction name={name} headed={headed} page={page} />} />
          ))}
        </Route>
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
      <Wire theme={theme} onTheme={toggleTheme} onKeys={() => setKeysOpen(true)} />
      {keysOpen && (
        <Suspense>
          <HowDialog onClose={() => setKeysOpen(false)} />
        </Suspense>
      )}
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
    <Bare name="Productions">
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

function Bare({ name, headed = false, children }: { name: string; headed?: boolean; children: ReactNode }) {
  return (
    <>
      <header className="flex h-14 shrink-0 items-center gap-4 border-b border-line px-5">
        <Mark />
        <span className="text-[15px] font-semibold">Brisk Relay</span>
      </header>
      <main id="sheet" tabIndex={-1} className="min-h-0 flex-1 overflow-auto bg-sheet focus-visible:outline-none">
        <StationBoundary>
          <Station name={name} headed={headed}>
            <Suspense fallback={<Loading what="The page" />}>{children}</Suspense>
          </Station>
        </StationBoundary>
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
      // It closes itself; another dialog keeps the keys.
      setBoxOpen((open) => (open ? false : !dialogIsOpen()));
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
  return (
    <>
      <header className="flex h-14 shrink-0 items-end gap-4 pl-5 max-lg:gap-2 max-lg:pl-3 print:hidden">
        <div className="flex h-14 w-52 min-w-0 shrink items-center gap-4 max-lg:w-28 max-lg:gap-2">
          <Mark />
          <span className="truncate text-[15px] font-semibold">{data?.name ?? ''}</span>
        </div>
        <Track production={data} />
        <div className="flex h-14 items-center pr-5 max-lg:pr-3">
          <button
            type="button"
            onClick={() => setBoxOpen(true)}
            className="flex h-8 items-center gap-4 rounded-md border whitespace-nowrap border-line px-3 text-faint hover:text-ink"
          >
            <span className="max-lg:sr-only">Go to…</span> <Key>Ctrl K</Key>
          </button>
        </div>
      </header>
      <main id="sheet" tabIndex={-1} className="flex min-h-0 flex-1 bg-sheet focus-visible:outline-none">
        {error && blocks(error, data) ? (
          <ProblemNote problem={problemOf(error)} again={() => void refetch()} />
        ) : (
          <StationBoundary>
            <Suspense
              fallback={
                <div className="flex-1">
                  <Loading what="The page" />
                </div>
              }
            >
              <DropZone production={production}>
                <Outlet />
              </DropZone>
            </Suspense>
          </StationBoundary>
        )}
      </main>
      <CommandBox open={boxOpen} onOpenChange={setBoxOpen} production={production} />
    </>
  );
}
