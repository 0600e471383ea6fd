import type { BenchAnswer } from '@relay/contract/bench';
import { emptyChain } from '@relay/core/colour/chain/chain';
import { toNumber } from '@relay/core/time/rational';
import { useQuery } from '@tanstack/react-query';
import { useCallback, useState } from 'react';
import { useKeys } from '../ui/keys.ts';
import { undoLastChange } from '../ui/undo.ts';
import { PictureChoice } from '../ui/pictureChoice.tsx';
import { problemOf } from '../ui/pieces.tsx';
import { ask } from './ask.ts';
import { ContactSheet } from './contact.tsx';
import { BenchDocket } from './docket.tsx';
import { FrameRow } from './frameRow.tsx';
import { modes, type Mode } from './gl.ts';
import { Measures } from './measures.tsx';
import type { CubeData, FrameData } from './messages.ts';
import type { Part } from './parts.tsx';
import { PointLine, type Point } from './pointer.tsx';
import { scopeKinds, type ScopeKind } from './scopeView.tsx';
import { useBake } from './useBake.ts';
import { useDraft } from './useDraft.ts';
import { useFrame } from './useFrame.ts';
import { useOn } from './useOn.tsx';
import { useBenchPlace } from './useBenchPlace.ts';
import { Viewer, zooms, type Computed, type Zoom } from './viewer.tsx';

/** Frames wider than this come scaled until somebody looks at single samples. */
const usualWidth = 2048;

interface ColourBenchProps {
  bench: BenchAnswer;
  production: string;
  onPart: (part: Part) => void;
}

/** How the picture is looked at. */
function useView() {
  const [mode, setMode] = useState<Mode>('side by side');
  const [zoom, setZoom] = useState<Zoom>('fit');
  const [centre, setCentre] = useState({ x: 0.5, y: 0.5 });
  const [wipe, setWipe] = useState(0.5);
  return { mode, setMode, zoom, setZoom, centre, setCentre, wipe, setWipe };
}

/** The frame and its picture through the cube, measured as often as one of them changes. */
function useMeasured(picture: ReturnType<typeof useFrame>, baked: ReturnType<typeof useBake>, of: string) {
  const cube: CubeData | null = baked.data?.cube ?? null;
  return useQuery({
    queryKey: ['measured', of, picture.data?.planes.byteLength, picture.dataUpdatedAt, cube?.size, baked.dataUpdatedAt],
    gcTime: 0,
    placeholderData: (previous) => previous,
    queryFn: () => ask({ kind: 'measure', frame: picture.data as FrameData, cube }),
    enabled: picture.data !== undefined && baked.data !== undefined,
  });
}

/** One clip's chain, seen: the picture before and after, measured, and the lane beside it. */
export function ColourBench({ bench, production, onPart }: ColourBenchProps) {
  const { video } = bench.description;
  const last = Math.max(0, (video?.frames ?? 1) - 1);
  const { selection, open, away } = useBenchPlace(production, 'colour');
  const saved = bench.chain ?? emptyChain;
  const [draft, setDraft] = useDraft(`chain ${bench.clip}`, saved);
  const chain = draft ?? saved;
  const [frame, setFrame] = useState(Math.floor(last * 0.4));
  const view = useView();
  const [scope, setScope] = useState<ScopeKind>('waveform');
  const [byCore, setByCore] = useState(false);
  const [computed, setComputed] = useState<Computed | null>(null);
  const [point, setPoint] = useState<Point | null>(null);
  const [sheet, setSheet] = useState(false);
  const [typing, setTyping] = useState(false);
  const picture = useFrame(bench.clip, frame, last, view.zoom === 'fit' ? usualWidth : 16_384);
  const baked = useBake(chain);
  const cube = baked.data?.cube ?? null;
  const measured = useMeasured(picture, baked, `${bench.clip} ${frame}`);
  const use = useOn(production, bench, selection);
  const onComputed = useCallback((now: Computed) => setComputed(now), []);
  const to = (wanted: number): void => setFrame(Math.min(last, Math.max(0, wanted)));

  useKeys({
    ArrowRight: (event) => to(frame + (event.shiftKey ? 10 : 1)),
    ArrowLeft: (event) => to(frame - (event.shiftKey ? 10 : 1)),
    Home: () => to(0),
    End: () => to(last),
    1: () => view.setZoom('fit'),
    2: () => view.setZoom(1),
    3: () => view.setZoom(2),
    4: () => view.setZoom(4),
    5: () => view.setZoom(8),
    s: () => view.setMode('side by side'),
    w: () => view.setMode('wipe'),
    d: () => view.setMode('difference'),
    b: () => view.setMode(view.mode === 'before' ? 'after' : 'before'),
    m: () => setScope(scopeKinds[(scopeKinds.indexOf(scope) + 1) % scopeKinds.length] as ScopeKind),
    g: () => setTyping(true),
    c: () => setSheet(!sheet),
    u: undoLastChange,
    '[': () => open(bench.previous),
    ']': () => open(bench.next),
    Escape: () => (sheet ? setSheet(false) : away()),
  });

  return (
    <>
      <div className="relative flex min-w-0 flex-1 flex-col bg-surround text-surround-ink">
        <div className="flex min-h-10 shrink-0 flex-wrap items-center gap-x-3 px-3">
          <PictureChoice
            label="Compare"
            options={modes}
            value={view.mode}
            say={(mode) => mode}
            onChoose={view.setMode}
          />
          <PictureChoice
            label="Zoom"
            options={zooms}
            value={view.zoom}
            say={(zoom) => (zoom === 'fit' ? 'fit' : `${zoom * 100} %`)}
            onChoose={view.setZoom}
            className="ml-auto font-mono"
          />
        </div>
        {sheet ? (
          <ContactSheet
            production={production}
            bench={bench}
            selection={selection}
            chain={chain}
            cube={cube}
            onOpen={open}
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
                mode={view.mode}
                zoom={view.zoom}
                centre={view.centre}
                onCentre={view.setCentre}
                wipe={view.wipe}
                onWipe={view.setWipe}
                byCore={byCore}
                onComputed={onComputed}
                onPoint={setPoint}
              />
            ) : (
              <div className="flex-1" role="status" aria-label="The frame comes" />
            )}
            <PointLine frame={picture.data} cube={cube} point={point} />
          </>
        )}
        <FrameRow
          clip={bench.description}
          frame={frame}
          last={last}
          typing={typing}
          onTyping={setTyping}
          onFrame={to}
        />
        <Measures measured={measured.data} busy={measured.isFetching} scope={scope} onScope={setScope} />
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
        onOther={open}
        onPart={onPart}
      />
    </>
  );
}
