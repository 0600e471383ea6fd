import type { ClipLine, RecipeAnswer } from '@relay/contract/api';
import { planLeg } from '@relay/core/recipe/plan';
import { sayOutput, sayPlan } from '@relay/core/recipe/sentence';
import { formatRaster } from '@relay/core/shape/raster';
import { formatRate } from '@relay/core/time/rate';
import { formatFraction, toNumber } from '@relay/core/time/rational';
import { formatLength } from '@relay/core/time/timecode';
import { Button, Fact, Key } from '../ui/pieces.tsx';
import { plural, sayBytes, saySpan } from '../ui/format.ts';

/** One value when all clips have it, else `mixed`. */
function same(clips: readonly ClipLine[], fact: (clip: ClipLine) => string): string {
  const values = new Set(clips.map(fact));
  return values.size === 1 ? ([...values][0] as string) : 'mixed';
}

function range(clip: ClipLine): string {
  const { colour } = clip.description.video ?? { colour: null };
  if (!colour) return '–';
  const tags = [...new Set([colour.primaries, colour.transfer, colour.matrix])].map((tag) => tag ?? 'untagged').join(' / ');
  return `${tags}, ${colour.range ?? 'range untagged'}`;
}

function sound(clip: ClipLine): string {
  const { audio } = clip.description;
  if (audio.length === 0) return 'none';
  const channels = audio.map((track) => track.channels).join(' + ');
  return `${channels} · ${[...new Set(audio.map((track) => `${track.codec}${track.codec.includes('bit') ? '' : track.bitDepth ? ` ${track.bitDepth} bit` : ''}`))].join(', ')} · ${[...new Set(audio.map((track) => track.sampleRate / 1000))].join(', ')} kHz`;
}

/** What a clip's facts are called, and how they are said. */
const facts: readonly (readonly [string, (clip: ClipLine) => string])[] = [
  ['Roll', (c) => c.roll],
  ['Reel', (c) => c.description.reel ?? 'none'],
  ['Starts', (c) => c.description.timecode?.start ?? 'none'],
  ['Length', (c) => (c.description.video ? `${formatLength(c.description.video.frames, c.description.video.rate)} · ${plural(c.description.video.frames, 'frame')}` : '–')],
  ['Rate', (c) => {
    const { video } = c.description;
    if (!video) return '–';
    return video.rateVaries ? `varies ${formatRate(video.rateVaries.slowest)}–${formatRate(video.rateVaries.fastest)}` : formatRate(video.rate);
  }],
  ['Scan', (c) => c.description.video?.scan.replaceAll('-', ' ') ?? '–'],
  ['Raster', (c) => (c.description.video ? formatRaster(c.description.video.raster) : '–')],
  ['Pixel aspect', (c) => (c.description.video ? `${formatFraction(c.description.video.pixelAspect, ':')}${c.description.video.pixelAspectTagged ? '' : ', untagged'}` : '–')],
  ['Codec', (c) => (c.description.video ? [c.description.video.codec, c.description.video.profile].filter(Boolean).join(' ') : '–')],
  ['Wrapper', (c) => c.description.wrapper],
  ['Sampling', (c) => (c.description.video ? `${c.description.video.chroma} ${c.description.video.bitDepth} bit${c.description.video.alpha ? ', alpha' : ''}` : '–')],
  ['Colour', range],
  ['Sound', sound],
  ['Data rate', (c) => (c.description.bitsPerSecond ? `${(c.description.bitsPerSecond / 1e6).toFixed(1)} Mb/s` : '–')],
  ['Size', (c) => sayBytes(c.description.sizeBytes)],
];

/** The docket: all facts of the selection, and in plain sentences what a run will do to it. */
export function ClipDocket({ clips, recipe, onRun }: { clips: readonly ClipLine[]; recipe: RecipeAnswer | undefined; onRun: () => void }) {
  const first = clips[0];
  if (!first) return null;
  const plan = clips.length === 1 && recipe ? planLeg(first.description, recipe.definition) : null;
  const seconds = clips.reduce((sum, { description }) => sum + (description.video ? toNumber(description.video.duration) : 0), 0);
  return (
    <div className="flex flex-col gap-4 p-5">
      {first.poster && <img src={`/api/clips/${first.id}/poster`} alt={`A picture of ${first.stem}`} className="max-h-52 w-full rounded-md bg-neutral-surround object-contain" />}
      <div>
        <h2 className="text-[15px] font-semibold break-all">{clips.length === 1 ? first.stem : plural(clips.length, 'clip')}</h2>
        <p className="font-mono text-[11px] break-all text-faint">{clips.length === 1 ? first.path : `${saySpan(seconds)} together · ${sayBytes(clips.reduce((sum, clip) => sum + clip.description.sizeBytes, 0))}`}</p>
      </div>
      {plan && (plan.ok
        ? (
          <div className="text-dim">
            <p>{sayPlan(plan.value).map((line) => `${line}.`).join(' ')}</p>
            <ul className="mt-2">{plan.value.outputs.map((output) => <li key={output.path} className="mt-1"><span className="block text-faint">{output.deliverable}</span><span className="block font-mono text-[12px] text-ink">{sayOutput(output)}</span></li>)}</ul>
          </div>
        )
        : <p role="note" className="text-amber">{plan.problem.what}. {plan.problem.remedy}.</p>)}
      <div className="flex items-center gap-2">
        <Button main onClick={onRun}>Run {plural(clips.length, 'clip')}…</Button><Key>R</Key>
      </div>
      {clips.length === 1 && first.notes.length > 0 && (
        <ul aria-label="To know" className="flex flex-col gap-1">
          {first.notes.map((note) => <li key={note.text} className="flex items-baseline gap-2"><span aria-hidden className={note.level === 'decide' ? 'size-2 shrink-0 rotate-45 bg-amber' : 'size-1.5 shrink-0 translate-y-[-2px] rounded-full bg-faint'} />{note.text}</li>)}
        </ul>
      )}
      <dl>{facts.map(([name, fact]) => <Fact key={name} name={name}>{same(clips, fact)}</Fact>)}</dl>
    </div>
  );
}
