import type { BenchAnswer } from '@relay/contract/bench';
import { emptyChain, type Chain } from '@relay/core/colour/chain/chain';
import { signalsOf } from '@relay/core/colour/lut/image';
import { compile3d } from '@relay/core/colour/lut/eval3d';
import { toNumber } from '@relay/core/time/rational';
import { framesToTimecode, timecodeToFrames } from '@relay/core/time/timecode';
import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import { benchQuery } from '../api/queries.ts';
import { useKeys } from '../ui/keys.tsx';
import { Key, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { ask } from './ask.ts';
import { ContactSheet } from './contact.tsx';
import { CorrectBench } from './correctPage.tsx';
import { usePart, type Part } from './parts.tsx';
import { BenchDocket } from './docket.tsx';
import { modes, type Mode } from './gl.ts';
import type { CubeData, FrameData } from './messages.ts';
import { ScopeView, scopeKinds, scopeNames, type ScopeKind } from './scopeView.tsx';
import { useBake } from './useBake.ts';
import { useFrame } from './useFrame.ts';
import { useOn } from './useOn.tsx';
import { Viewer, zooms, type Computed, type Zoom } from './viewer.tsx';

/** Frames wider than this come scaled until somebody looks at single samples. */
const usualWidth = 2048;

/** One clip's chain, seen: the picture before and after, measured, and the lane beside it. */
export function BenchPage() {
  const { production = '', clip = '' } = useParams();
  const [part, setPart] = usePart();
  const { data: bench, error, refetch } = useQuery(benchQuery(clip));
  if (error) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!bench || bench.clip !== clip)
    return (
      <div className="flex-1 bg-neutral-surround">
        <Loading what="The bench" />
      </div>
    );
  if (part !== 'colour')
    return <CorrectBench key={bench.clip} bench={bench} production={production} part={part} onPart={setPart} />;
  // A clip's own bench: what was drafted for one is not carried to the next.
  return <Bench key={bench.clip} bench={bench} production={production} onPart={setPart} />;
}

/** What was tried and not used yet, clip by clip: going elsewhere and coming back finds it. */
const drafts = new Map<string, Chain>();

function labelOf({ description }: BenchAnswer, frame: number): string | null {
  const { video, timecode } = description;
  if (!video || !timecode) return null;
  const start = timecodeToFrames(timecode.start, video.rate);
  const label = start.ok ? framesToTimecode(start.value + frame, video.rate, timecode.dropFrame) : null;
  return label?.ok ? label.value.text : null;
}

function Bench({
  bench,
  production,
  onPart,
}: {
  bench: BenchAnswer;
  production: string;
  onPart: (part: Part) => void;
}) {
  const go = useNavigate();
  const { state } = useLocation() as { state: { selection?: string[] } | null };
  const selection = useMemo(() => state?.selection ?? [], [state]);
  const { video } = bench.description;
  const last = Math.max(0, (video?.frames ?? 1) - 1);
  const saved = bench.chain ?? emptyChain;
  const [draft, keepDraft] = useState<Chain | null>(drafts.get(bench.clip) ?? null);
  const current = useRef(draft ?? saved);
  const setDraft = (wanted: Chain | null | ((now: Chain) => Chain)): void => {
    // From what stands now, also for a change that had to wait for something.
    const next = typeof wanted === 'function' ? wanted(current.current) : wanted;
    current.current = next ?? saved;
    if (next) drafts.set(bench.clip, next);
    else drafts.delete(bench.clip);
    keepDraft(next);
  };
  const chain = draft ?? saved;
  const [frame, setFrame] = useState(Math.floor(last * 0.4));
  const [mode, setMode] = useState<Mode>('side by side');
  const [zoom, setZoom] = useState<Zoom>('fit');
  const [centre, setCentre] = useState({ x: 0.5, y: 0.5 });
  const [wipe, setWipe] = useState(0.5);
  const [scope, setScope] = useState<ScopeKind>('waveform');
  const [byCore, setByCore] = useState(false);
  const [computed, setComputed] = useState<Computed | null>(null);
  const [sheet, setSheet] = useState(false);
  const [typing, setTyping] = useState(false);
  const width = zoom === 'fit' ? usualWidth : 16_384;
  const picture = useFrame(bench.clip, frame, last, width);
  const baked = useBake(chain);
  const cube = baked.data?.cube ?? null;
  const measured = useQuery({
    queryKey: [
      'measured',
      picture.data?.planes.byteLength,
      frame,
      bench.clip,
      cube?.size,
      baked.dataUpdatedAt,
      picture.dataUpdatedAt,
    ],
    gcTime: 0,
    placeholderData: (previous) => previous,
    queryFn: () => ask({ kind: 'measure', frame: picture.data as FrameData, cube }),
    enabled: picture.data !== undefined && baked.data !== undefined,
  });
  const { use, undoLast } = useOn(production, bench, selection);
  const to = (wanted: number): void => setFrame(Math.min(last, Math.max(0, wanted)));
  const onComputed = useCallback((now: Computed) => setComputed(now), []);
  const other = (id: string | null) => () => {
    if (id) void go(`/p/${production}/bench/${id}`, { state });
  };
  useKeys({
    ArrowRight: (event) => to(frame + (event.shiftKey ? 10 : 1)),
    ArrowLeft: (event) => to(frame - (event.shiftKey ? 10 : 1)),
    Home: () => to(0),
    End: () => to(last),
    1: () => setZoom('fit'),
    2: () => setZoom(1),
    3: () => setZoom(2),
    4: () => setZoom(4),
    5: () => setZoom(8),
    s: () => setMode('side by side'),
    w: () => setMode('wipe'),
    d: () => setMode('difference'),
    b: () => setMode(mode === 'before' ? 'after' : 'before'),
    m: () => setScope(scopeKinds[(scopeKinds.indexOf(scope) + 1) % scopeKinds.length] as ScopeKind),
    g: () => setTyping(true),
    c: () => setSheet(!sheet),
    u: undoLast,
    '[': other(bench.previous),
    ']': other(bench.next),
    Escape: () => (sheet ? setSheet(false) : void go(`/p/${production}/bench`)),
  });
  const [point, setPoint] = useState<{ x: number; y: number } | null>(null);
  const values = usePoint(picture.data, cube, point);
  const timecode = labelOf(bench, frame);
  const choice = (on: boolean): string =>
    `h-7 rounded px-2 ${on ? 'bg-[#4a4a4a] text-white' : 'text-[#c8c8c8] hover:text-white'}`;
  return (
    <>
      <div className="relative flex min-w-0 flex-1 flex-col bg-neutral-surround text-[#d8d8d8]">
        <div className="flex h-10 shrink-0 items-center gap-3 px-3">
          <span role="group" aria-label="Compare" className="flex">
            {modes.map((one) => (
              <button
                key={one}
                type="button"
                aria-pressed={mode === one}
                onClick={() => setMode(one)}
                className={choice(mode === one)}
              >
                {one}
              </button>
            ))}
          </span>
          <span role="group" aria-label="Zoom" className="ml-auto flex font-mono">
            {zooms.map((one) => (
              <button
                key={one}
                type="button"
                aria-pressed={zoom === one}
                onClick={() => setZoom(one)}
                className={choice(zoom === one)}
              >
                {one === 'fit' ? 'fit' : `${one * 100} %`}
              </button>
            ))}
          </span>
        </div>
        {sheet ? (
          <ContactSheet
            production={production}
            bench={bench}
            selection={selection}
            chain={chain}
            cube={cube}
            onOpen={(id) => void go(`/p/${production}/bench/${id}`, { state })}
          />
        ) : (
          <>
            {picture.error && (
              <p role="alert" className="px-4 py-2">
                {problemOf(picture.error).what}. {problemOf(picture.error).remedy}.
              </p>
            )}
            {picture.data ? (
              <Viewer
                frame={picture.data}
                coming={picture.isPlaceholderData}
                pixelAspect={video ? toNumber(video.pixelAspect) : 1}
                cube={cube}
                mode={mode}
                zoom={zoom}
                centre={centre}
                onCentre={setCentre}
                wipe={wipe}
                onWipe={setWipe}
                byCore={byCore}
                onComputed={onComputed}
                onPoint={setPoint}
              />
            ) : (
              <div className="flex-1" role="status" aria-label="The frame comes" />
            )}
            <PointLine point={point} values={values} />
          </>
        )}
        <div className="flex shrink-0 items-center gap-3 px-3 py-1.5">
          <span>As shot</span>
          <input
            type="range"
            aria-label="Frame"
            aria-valuetext={timecode ?? `frame ${frame + 1}`}
            min={0}
            max={last}
            value={frame}
            onChange={(event) => to(Number(event.target.value))}
            className="min-w-0 flex-1 accent-[#d8d8d8]"
          />
          {typing || timecode === null ? (
            <TimecodeEntry
              bench={bench}
              frame={frame}
              autoFocus={typing}
              onFrame={to}
              onDone={() => setTyping(false)}
            />
          ) : (
            <button
              type="button"
              onClick={() => setTyping(true)}
              title="Go to a timecode (G)"
              className="font-mono text-lg text-white"
            >
              {timecode}
            </button>
          )}
          <span className="font-mono whitespace-nowrap text-[#b8b8b8]">
            frame {frame + 1} of {last + 1}
          </span>
          <span className="flex items-center gap-1 [&_kbd]:border-[#666] [&_kbd]:text-[#c8c8c8]">
            <Key>←</Key>
            <Key>→</Key>
          </span>
          <span className="ml-auto">Corrected</span>
        </div>
        <div className="flex shrink-0 gap-1 px-3" aria-busy={measured.isFetching}>
          {measured.data ? (
            <>
              <ScopeView kind={scope} scopes={measured.data.before} label="As shot" />
              <ScopeView kind={scope} scopes={measured.data.after} label="Corrected" />
            </>
          ) : (
            <div className="h-[132px] flex-1 bg-[#1d1d1d]" />
          )}
        </div>
        <div className="flex h-9 shrink-0 items-center justify-between px-3 text-[#b8b8b8]">
          <span>
            Luma <span className="font-mono text-[#d8d8d8]">{measured.data?.before.lumaCodes.join('–') ?? ''}</span>
          </span>
          <span role="group" aria-label="Measure" className="flex">
            {scopeKinds.map((one) => (
              <button
                key={one}
                type="button"
                aria-pressed={scope === one}
                onClick={() => setScope(one)}
                className={choice(scope === one)}
              >
                {scopeNames[one]}
              </button>
            ))}
          </span>
          <span>
            Luma <span className="font-mono text-[#d8d8d8]">{measured.data?.after.lumaCodes.join('–') ?? ''}</span>
          </span>
        </div>
      </div>
      <BenchDocket
        bench={bench}
        production={production}
        selection={selection}
        chain={chain}
        dirty={draft !== null && JSON.stringify(draft) !== JSON.stringify(saved)}
        baked={baked.data}
        bakeError={baked.error}
        measured={measured.data}
        computed={computed}
        byCore={byCore}
        sheet={sheet}
        onChain={setDraft}
        onByCore={setByCore}
        onSheet={() => setSheet(!sheet)}
        using={use.isPending}
        onUse={(where, what) => use.mutate({ scope: where, chain: what }, { onSuccess: () => setDraft(null) })}
        onOther={(id) => other(id)()}
        onPart={onPart}
      />
    </>
  );
}

/** Signals under the pointer before and after, from core. */
function usePoint(
  frame: FrameData | undefined,
  cube: CubeData | null,
  point: { x: number; y: number } | null,
): { before: number[]; after: number[] } | null {
  return useMemo(() => {
    if (!frame || !point || point.x >= frame.width || point.y >= frame.height) return null;
    const size = frame.width * frame.height;
    const i = point.y * frame.width + point.x;
    const one = Uint16Array.of(
      frame.planes[i] as number,
      frame.planes[size + i] as number,
      frame.planes[2 * size + i] as number,
    );
    const before = Float64Array.from(signalsOf(one, 1, 1, frame.matrix));
    const after = Float64Array.from(before);
    if (cube) compile3d(cube, 'tetrahedral')(after);
    return { before: [...before], after: [...after] };
  }, [frame, cube, point]);
}

/** Codes and percents under the pointer. */
function PointLine({
  point,
  values,
}: {
  point: { x: number; y: number } | null;
  values: { before: number[]; after: number[] } | null;
}) {
  const said = (rgb: number[]): string => rgb.map((x) => String(Math.round(64 + 876 * x)).padStart(4)).join(' ');
  const percent = (rgb: number[]): string => rgb.map((x) => (x * 100).toFixed(1).padStart(5)).join(' ');
  return (
    <p
      className="flex h-6 shrink-0 items-center justify-between px-3 font-mono text-[11px] whitespace-pre text-[#b8b8b8]"
      aria-live="off"
    >
      {point && values ? (
        <>
          <span>
            {said(values.before)} · {percent(values.before)} %
          </span>
          <span>
            {point.x}, {point.y}
          </span>
          <span>
            {said(values.after)} · {percent(values.after)} %
          </span>
        </>
      ) : (
        <span className="text-[#9a9a9a]">R G B under the pointer, in codes of 1023 and percent</span>
      )}
    </p>
  );
}

/** A timecode to go to, or a frame's number where there is no timecode. */
function TimecodeEntry({
  bench,
  frame,
  autoFocus,
  onFrame,
  onDone,
}: {
  bench: BenchAnswer;
  frame: number;
  autoFocus: boolean;
  onFrame: (frame: number) => void;
  onDone: () => void;
}) {
  const { video, timecode } = bench.description;
  const [text, setText] = useState('');
  const [wrong, setWrong] = useState<string | null>(null);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (autoFocus) field.current?.focus();
  }, [autoFocus]);
  const submit = (): void => {
    const typed = text.trim();
    if (typed === '') {
      onDone();
      return;
    }
    if (/^\d+$/.test(typed) && (!timecode || typed.length < 5)) {
      onFrame(Number(typed) - 1);
      onDone();
      return;
    }
    // Digits alone are a timecode without its colons.
    const spelt = /^\d{5,8}$/.test(typed) ? typed.padStart(8, '0').replace(/(\d\d)(?=\d)/g, '$1:') : typed;
    const [at, start] =
      video && timecode
        ? [
            timecodeToFrames(timecode.dropFrame ? spelt.replace(/:(\d\d)$/, ';$1') : spelt, video.rate),
            timecodeToFrames(timecode.start, video.rate),
          ]
        : [null, null];
    if (at?.ok && start?.ok && at.value >= start.value && at.value - start.value < (video?.frames ?? 0)) {
      onFrame(at.value - start.value);
      onDone();
    } else setWrong(at && !at.ok ? at.problem.what : 'that is not in this clip');
  };
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <input
        ref={field}
        aria-label="Go to a timecode or frame"
        aria-invalid={wrong !== null}
        placeholder={labelOf(bench, frame) ?? `frame ${frame + 1}`}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setWrong(null);
        }}
        onKeyDown={(event) => {
          if (event.key === 'Escape') onDone();
        }}
        onBlur={() => {
          if (text === '') onDone();
        }}
        className="h-7 w-36 rounded border border-[#666] bg-[#1d1d1d] px-2 font-mono text-white"
      />
      {wrong && (
        <span role="alert" className="text-[#f0a0b0]">
          {wrong}
        </span>
      )}
    </form>
  );
}
