import type { BenchAnswer, ChainedClip } from '@relay/contract/bench';
import type { Chain } from '@relay/core/colour/chain/chain';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { chainedQuery } from '../api/queries.ts';
import { plural } from '../ui/format.ts';
import { blocks, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { ask } from './ask.ts';
import type { CubeData } from './messages.ts';
import { frameQuery } from './useFrame.ts';

interface ContactProps {
  production: string;
  bench: BenchAnswer;
  selection: readonly string[];
  chain: Chain;
  cube: CubeData | null;
  onOpen: (clip: string) => void;
}

/** A frame of every clip of the group or selection, with the chain on the bench, so that an odd one out is seen. */
export function ContactSheet({ production, bench, selection, chain, cube, onOpen }: ContactProps) {
  const [whose, setWhose] = useState<'group' | 'roll' | 'production'>('group');
  const { data, error, refetch } = useQuery(
    chainedQuery(
      production,
      selection.length > 1 ? 'production' : whose,
      whose === 'roll' ? bench.roll : bench.group.key,
    ),
  );
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data) return <Loading what="The contact sheet" />;
  const clips = selection.length > 1 ? data.filter((clip) => selection.includes(clip.id)) : data;
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex items-center gap-3 px-3 pb-2">
        <span>{plural(clips.length, 'clip')} with this chain</span>
        {selection.length < 2 && (
          <select
            aria-label="Clips of"
            value={whose}
            onChange={(event) => setWhose(event.target.value as typeof whose)}
            className="h-7 rounded border border-surround-line bg-surround-well px-1.5 text-surround-ink"
          >
            <option value="group">its group</option>
            <option value="roll">roll {bench.roll}</option>
            <option value="production">everything</option>
          </select>
        )}
      </div>
      <ul className="grid min-h-0 flex-1 grid-cols-[repeat(auto-fill,minmax(220px,1fr))] content-start gap-2 overflow-auto px-3 pb-3">
        {clips.map((clip) => (
          <Cell
            key={clip.id}
            clip={clip}
            cube={cube}
            differs={JSON.stringify(clip.chain) !== JSON.stringify(chain)}
            onOpen={() => onOpen(clip.id)}
          />
        ))}
      </ul>
    </div>
  );
}

function Cell({
  clip,
  cube,
  differs,
  onOpen,
}: {
  clip: ChainedClip;
  cube: CubeData | null;
  differs: boolean;
  onOpen: () => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const place = useRef<HTMLLIElement>(null);
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    const watcher = new IntersectionObserver(([entry]) => {
      if (entry?.isIntersecting) setSeen(true);
    });
    if (place.current) watcher.observe(place.current);
    return () => watcher.disconnect();
  }, []);
  const { data: frame, error } = useQuery({
    ...frameQuery(clip.id, Math.floor(clip.frames * 0.4), 320),
    enabled: seen,
    gcTime: 300_000,
  });
  useEffect(() => {
    if (!frame) return;
    let current = true;
    void ask({ kind: 'picture', frame, cube }).then(({ after }) => {
      const target = canvas.current;
      if (!current || !target) return;
      target.width = frame.width;
      target.height = frame.height;
      target
        .getContext('2d')
        ?.putImageData(new ImageData(new Uint8ClampedArray(after), frame.width, frame.height), 0, 0);
    });
    return () => {
      current = false;
    };
  }, [frame, cube]);
  return (
    <li ref={place}>
      <button type="button" onClick={onOpen} className="block w-full text-left">
        {error ? (
          <span className="flex h-32 items-center justify-center bg-surround-well text-surround-dim">no frame</span>
        ) : (
          <canvas
            ref={canvas}
            width={320}
            height={180}
            role="img"
            aria-label={`${clip.stem} with this chain`}
            className="block w-full bg-surround-well"
            style={{ aspectRatio: frame ? `${frame.width * clip.pixelAspect} / ${frame.height}` : '16 / 9' }}
          />
        )}
        <span className="flex justify-between py-1">
          <span className="truncate">{clip.stem}</span>
          <span className="shrink-0 text-surround-dim">
            {differs ? (clip.chain ? 'has another chain' : 'has none yet') : 'has it'}
          </span>
        </span>
      </button>
    </li>
  );
}
