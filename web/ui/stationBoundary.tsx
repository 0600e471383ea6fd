import { Component, useEffect, useState, type ReactNode } from 'react';
import { useLocation } from 'react-router';
import { Button, ProblemNote } from './pieces.tsx';

/** What browsers say of a part of the page that could not be fetched (Chromium, Firefox, WebKit). */
const notFetched =
  /dynamically imported module|error loading dynamically|Importing a module script failed|preload CSS/i;

/** How long a page that was loaded anew for a missing part must have stood before that is tried again. */
const triedLatelyMs = 20_000;
const triedKey = 'relay part tried';

function triedLately(): boolean {
  return Date.now() - Number(sessionStorage.getItem(triedKey) ?? 0) < triedLatelyMs;
}

function loadAnew(): void {
  sessionStorage.setItem(triedKey, String(Date.now()));
  window.location.reload();
}

/**
 * Stands for a station whose code did not come: the server is away, or another version of it stands there now. Loads the
 * page anew as soon as it answers, once; a part that is missing even then is a fault that a person decides about.
 */
function PartAway() {
  const [stuck] = useState(triedLately);
  useEffect(() => {
    if (stuck) return;
    let timer: ReturnType<typeof setTimeout>;
    const ask = async (): Promise<void> => {
      const there = await fetch('/', { method: 'HEAD', cache: 'no-store' }).then(
        (response) => response.ok,
        () => false,
      );
      if (there) loadAnew();
      else timer = setTimeout(() => void ask(), 1_000);
    };
    void ask();
    return () => clearTimeout(timer);
  }, [stuck]);
  return stuck ? (
    <ProblemNote
      problem={{
        what: 'A part of this page is missing at the server',
        remedy: 'End Brisk Relay and start it again with ./relay start, which builds what is missing',
      }}
      again={loadAnew}
    />
  ) : (
    <div role="status" className="m-6 max-w-xl">
      <p className="font-semibold">This page waits for its other half</p>
      <p className="mt-1 text-dim">
        Brisk Relay does not answer, or was renewed. See that ./relay start is running; the page goes on by itself.
      </p>
    </div>
  );
}

interface BoundaryProps {
  /** Where the page is: an error of one place is forgotten at the next. */
  place: string;
  children: ReactNode;
}

class Boundary extends Component<BoundaryProps, { error: Error | null }> {
  override state: { error: Error | null } = { error: null };

  static getDerivedStateFromError(error: Error): { error: Error } {
    return { error };
  }

  override componentDidUpdate(before: BoundaryProps): void {
    if (before.place !== this.props.place && this.state.error) this.setState({ error: null });
  }

  override render(): ReactNode {
    const { error } = this.state;
    if (!error) return this.props.children;
    if (notFetched.test(error.message)) return <PartAway />;
    return (
      <div role="alert" className="m-6 max-w-xl rounded-lg border border-line bg-sheet p-5">
        <p className="font-semibold">This page met an error of its own</p>
        <p className="mt-1 text-dim">
          What was kept is safe, and the other pages work. Show it again; if it fails again, send us this line:
        </p>
        <p className="mt-2 font-mono text-[12px] break-words">{error.message}</p>
        <Button className="mt-4" onClick={() => this.setState({ error: null })}>
          Show it again
        </Button>
      </div>
    );
  }
}

/** Keeps an error of one station from taking the track, the wire and the other stations with it. */
export function StationBoundary({ children }: { children: ReactNode }) {
  const { pathname } = useLocation();
  return <Boundary place={pathname}>{children}</Boundary>;
}
