import type { Comparison, OutputAnswer } from '@relay/contract/checks';
import { formatRaster } from '@relay/core/shape/raster';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { comparisonQuery } from '../api/queries.ts';
import { useKeys } from '../ui/keys.ts';
import { Loading, problemOf } from '../ui/pieces.tsx';
import { PictureChoice, PictureSwitch } from '../ui/pictureChoice.tsx';
import { PairView, type Choice, type Drawer } from './pairView.tsx';
import { sayReplaced } from './replacedWords.ts';
import { Transport } from './transport.tsx';
import type { PairPlayer } from './usePairPlayer.ts';
import { useStills } from './useStills.ts';
import { gains, scaleOf, zooms } from './view.ts';

/** The ways of looking that there are to choose from; the last shows one after the other. */
const ways = ['side by side', 'wipe', 'difference', 'blink'] as const;
type Way = (typeof ways)[number];

/** Half a second each. */
const blinkMs = 500;

interface PairProps {
  output: OutputAnswer;
  against: string;
  onAgainst: (against: string) => void;
  player: PairPlayer;
  /** Told what draws the pictures of the stream. */
  onDrawer: (drawer: Drawer | null) => void;
  labelOf: (frame: number) => string;
}

/** An output and what it is held against, seen together: beside each other, wiped, by difference, in turns. */
export function Pair({ output, against, onAgainst, player, onDrawer, labelOf }: PairProps) {
  const { data: both, error } = useQuery(comparisonQuery(output.id, against));
  const [way, setWay] = useState<Way>('side by side');
  const [choice, setChoice] = useState<Choice>({
    looking: 'side by side',
    zoom: 'fit',
    gain: 4,
    wipe: 0.5,
    centre: { x: 0.5, y: 0.5 },
  });
  const [dots, setDots] = useState({ width: 0, height: 0 });
  const [drawer, setDrawer] = useState<Drawer | null>(null);
  const [undrawn, setUndrawn] = useState<string | null>(null);
  const place = useRef<HTMLDivElement>(null);
  const left = useBlink(way === 'blink');
  const change = (changed: Partial<Choice>): void => setChoice((before) => ({ ...before, ...changed }));
  const look = (wanted: Way): void => {
    setWay(wanted);
    // What blinks lies on one place.
    change({ looking: wanted === 'blink' ? 'left alone' : wanted });
  };
  const whole = (): void => {
    if (document.fullscreenElement) void document.exitFullscreen();
    else void place.current?.requestFullscreen().catch(() => undefined);
  };
  const stills = useStills({
    output: output.id,
    against,
    both,
    frame: player.frame,
    zoom: choice.zoom,
    scale: both && dots.width > 0 ? scaleOf(both, choice.looking, choice.zoom, dots) : 0,
    playing: player.playing,
  });
  const frames = {
    against: stills.against.data,
    output: stills.output.data,
  };
  useEffect(() => {
    if (!player.playing && frames.against && frames.output)
      drawer?.still({ against: frames.against, output: frames.output });
    // A canvas of another size is empty.
  }, [drawer, frames.against, frames.output, player.playing, dots]);
  usePairKeys(player, look, (zoom) => change({ zoom }), whole);
  const failed = stills.output.error ?? stills.against.error ?? error;
  if (!both)
    return (
      <div className="flex min-w-0 flex-1 flex-col justify-center bg-surround px-8 text-center text-surround-ink">
        {error ? <Problem error={error} /> : <Loading what="The pictures" />}
      </div>
    );
  const coming = !player.playing && (stills.output.isFetching || stills.against.isFetching);
  const blinking = way === 'blink' ? (left ? 'left alone' : 'right alone') : null;
  return (
    <div ref={place} className="flex min-w-0 flex-1 flex-col bg-surround text-surround-ink">
      <div className="flex shrink-0 flex-wrap items-center gap-x-4 gap-y-1 px-3 py-1.5">
        <PictureChoice label="Looked at" options={ways} value={way} say={(one) => one} onChoose={look} />
        {way === 'difference' && (
          <PictureChoice
            label="Difference strengthened"
            options={gains}
            value={choice.gain as (typeof gains)[number]}
            say={(one) => `×${one}`}
            onChoose={(gain) => change({ gain })}
            className="font-mono"
          />
        )}
        {way === 'wipe' && (
          <input
            type="range"
            aria-label="Wipe"
            min={0}
            max={100}
            value={Math.round(choice.wipe * 100)}
            onChange={(event) => change({ wipe: Number(event.target.value) / 100 })}
            className="w-28 accent-surround-ink"
          />
        )}
        <span className="ml-auto flex items-center gap-1">
          <PictureChoice
            label="Zoom"
            options={zooms}
            value={choice.zoom}
            say={(one) => (one === 'fit' ? 'fit' : `${one} %`)}
            onChoose={(zoom) => change({ zoom })}
            className="font-mono"
          />
          <PictureSwitch on={false} onPress={whole}>
            Whole screen
          </PictureSwitch>
        </span>
      </div>
      <Titles
        both={both}
        way={way}
        left={left}
        against={against}
        onAgainst={(other) => {
          player.stop();
          onAgainst(other);
        }}
      />
      <ReplacedFiles both={both} against={against} />
      {undrawn !== null && (
        <p role="alert" className="px-4 py-2">
          Nothing can be drawn here: {undrawn}. Use a browser with WebGL2.
        </p>
      )}
      {failed && !player.playing && <Problem error={failed} />}
      {player.failed && (
        <p role="alert" className="px-4 py-2">
          It cannot be played from here on. Look at the pictures one by one, or try another place.
        </p>
      )}
      <div className="flex min-h-0 flex-1 flex-col" aria-busy={coming}>
        <PairView
          both={both}
          choice={choice}
          blinking={blinking}
          label={`${both.against.title} and ${both.output.title}, ${way}`}
          onChoice={change}
          onDots={setDots}
          onDrawer={(one) => {
            setDrawer(one);
            onDrawer(one);
          }}
          onProblem={setUndrawn}
        />
      </div>
      {/* What is seen of it is drawn on the canvas. */}
      <video {...player.video} className="hidden" playsInline />
      <Transport player={player} both={both} labelOf={labelOf} />
    </div>
  );
}

function Problem({ error }: { error: unknown }) {
  const { what, remedy } = problemOf(error);
  return (
    <p role="alert" className="px-4 py-2">
      {what}. {remedy}.
    </p>
  );
}

/** Whether the left one is up, of two that take turns. */
function useBlink(on: boolean): boolean {
  const [left, setLeft] = useState(true);
  useEffect(() => {
    if (!on) return;
    const timer = setInterval(() => setLeft((before) => !before), blinkMs);
    return () => clearInterval(timer);
  }, [on]);
  return left;
}

function usePairKeys(
  player: PairPlayer,
  look: (way: Way) => void,
  zoom: (zoom: Choice['zoom']) => void,
  whole: () => void,
): void {
  const { between, setBetween, head } = player;
  useKeys({
    j: () => player.on(true),
    k: player.stop,
    l: () => player.on(false),
    ' ': player.toggle,
    ArrowRight: (event) => player.step(event.shiftKey ? 10 : 1),
    ArrowLeft: (event) => player.step(event.shiftKey ? -10 : -1),
    Home: () => player.go(0),
    End: () => player.go(Infinity),
    i: () => setBetween({ ...between, from: between.from === null ? head.get().frame : null }),
    o: () => setBetween({ ...between, to: between.to === null ? head.get().frame : null }),
    g: () => setBetween({ ...between, again: !between.again }),
    s: () => look('side by side'),
    w: () => look('wipe'),
    d: () => look('difference'),
    b: () => look('blink'),
    f: whole,
    ...Object.fromEntries(zooms.map((one, index) => [String(index + 1), () => zoom(one)])),
  });
}

/** That something else lies in the place of either. */
function ReplacedFiles({ both, against }: { both: Comparison; against: string }) {
  return (['output', 'against'] as const).map((side) => {
    const said = sayReplaced(both[side], side === 'against' && against === 'original');
    return (
      said !== null && (
        <p key={side} role="alert" className="px-4 py-2 text-surround-wrong">
          {said}
        </p>
      )
    );
  });
}

interface TitlesProps {
  both: Comparison;
  way: Way;
  left: boolean;
  against: string;
  onAgainst: (against: string) => void;
}

function sayOf({ raster, codec, bitDepth }: Comparison['output']): string {
  return `${formatRaster(raster)} · ${codec} · ${bitDepth} bit`;
}

/** What lies left and right, and what else it can be held against. */
function Titles({ both, way, left, against, onAgainst }: TitlesProps) {
  const dimmed = (mine: boolean): string => (way === 'blink' && !mine ? 'opacity-50' : '');
  return (
    <div className="grid shrink-0 grid-cols-2 gap-x-6 px-3 py-1">
      <span className={`flex min-w-0 items-center justify-between gap-2 ${dimmed(left)}`}>
        {both.others.length > 0 ? (
          <select
            aria-label="Held against"
            value={against}
            onChange={({ target }) => onAgainst(target.value)}
            className="min-w-0 truncate rounded bg-surround-raised px-1.5 py-0.5 text-white"
          >
            <option value="original">Original</option>
            {both.others.map(({ id, deliverable, run }) => (
              <option key={id} value={id}>
                {deliverable}, {run}
              </option>
            ))}
          </select>
        ) : (
          <span className="text-white">{both.against.title}</span>
        )}
        <span className="truncate font-mono text-[11px]">{sayOf(both.against)}</span>
      </span>
      <span className={`flex min-w-0 items-center justify-between gap-2 ${dimmed(!left)}`}>
        <span className="truncate text-white">{both.output.title}</span>
        <span className="truncate font-mono text-[11px]">{sayOf(both.output)}</span>
      </span>
    </div>
  );
}
