import { sizesBy, type SizesAnswer, type SizeSum } from '@relay/contract/checks';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useParams } from 'react-router';
import { sizesQuery } from '../api/queries.ts';
import { plural, sayBytes, saySpan } from '../ui/format.ts';
import { ListTable, type ListColumn } from '../ui/listTable.tsx';
import { blocks, Bytes, Empty, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { useAddress } from '../ui/useAddress.ts';
import { ChecksHead, Choice } from './head.tsx';
import { sayMegabits, sayShare } from './sizeWords.ts';

type Line = SizesAnswer['lines'][number];
type By = (typeof sizesBy)[number];

const unnamed: Record<By, string> = {
  deliverable: 'no deliverable',
  roll: 'no roll',
  camera: 'no camera named',
  day: 'no day',
};

function columnsOf(by: By, lines: readonly Line[]): ListColumn<Line>[] {
  const largest = Math.max(1, ...lines.flatMap(({ originalBytes, outputBytes }) => [originalBytes, outputBytes]));
  return [
    {
      id: 'name',
      name: `${by.charAt(0).toUpperCase()}${by.slice(1)}`,
      of: ({ name }) => name,
      show: ({ name }) => <span className="font-semibold">{name === '' ? unnamed[by] : name}</span>,
      track: 'minmax(8rem, 1fr)',
    },
    {
      id: 'clips',
      name: 'Clips',
      of: ({ clips }) => clips,
      show: ({ clips }) => <span className="font-mono">{clips}</span>,
      track: '4rem',
      right: true,
    },
    {
      id: 'length',
      name: 'Length',
      of: ({ seconds }) => seconds,
      show: ({ seconds }) => <span className="font-mono whitespace-nowrap">{saySpan(seconds)}</span>,
      track: '6.5rem',
      right: true,
    },
    {
      id: 'original',
      name: 'Originals',
      of: ({ originalBytes }) => originalBytes,
      show: ({ originalBytes }) => <Bytes value={originalBytes} />,
      track: '6rem',
      right: true,
    },
    {
      id: 'outputs',
      name: 'Made of them',
      of: ({ outputBytes }) => outputBytes,
      show: ({ outputBytes }) => <Bytes value={outputBytes} />,
      track: '7rem',
      right: true,
    },
    {
      id: 'share',
      name: 'Share',
      of: (line) => line.outputBytes / Math.max(1, line.originalBytes),
      show: (line) => <span className="font-mono whitespace-nowrap">{sayShare(line)}</span>,
      track: '5rem',
      right: true,
    },
    {
      id: 'rate',
      name: 'Rate',
      of: ({ outputBytes, seconds }) => outputBytes / Math.max(1e-9, seconds),
      show: ({ originalBytes, outputBytes, seconds }) => (
        <span className="font-mono whitespace-nowrap">
          {sayMegabits(originalBytes, seconds)} → {sayMegabits(outputBytes, seconds)}{' '}
          <span className="text-faint">Mb/s</span>
        </span>
      ),
      track: '11rem',
      right: true,
    },
    {
      id: 'picture',
      name: 'Before and after',
      of: ({ originalBytes }) => originalBytes,
      show: (line) => <Bars line={line} largest={largest} />,
      track: 'minmax(6rem, 16rem)',
    },
  ];
}

/** Before above after, as long as they are large. */
function Bars({ line, largest }: { line: SizeSum; largest: number }) {
  const width = (bytes: number): string => `${Math.max(0.4, (bytes / largest) * 100)}%`;
  return (
    <span
      role="img"
      aria-label={`${sayBytes(line.originalBytes)} before, ${sayBytes(line.outputBytes)} after`}
      className="flex flex-col gap-0.5"
    >
      <span className="h-2 rounded-sm bg-dim/50" style={{ width: width(line.originalBytes) }} />
      <span className="h-2 rounded-sm bg-ink/80" style={{ width: width(line.outputBytes) }} />
    </span>
  );
}

/** How large everything was, and how large it is: summed by deliverable, roll, camera or day. */
export function SizesPage() {
  const { production = '' } = useParams();
  const [asked, setAsked] = useAddress();
  const by = sizesBy.find((one) => one === asked.get('by')) ?? 'deliverable';
  const { data, error, refetch } = useQuery(sizesQuery(production, by));
  const columns = useMemo(() => columnsOf(by, data?.lines ?? []), [by, data]);
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data)
    return (
      <div className="flex-1">
        <Loading what="The sizes" />
      </div>
    );
  const { all } = data;
  if (all.outputs === 0)
    return (
      <div className="flex-1 px-6">
        <Empty title="Nothing to weigh yet">
          <p>As soon as a run has made outputs, what they weigh stands here beside their originals.</p>
        </Empty>
      </div>
    );
  return (
    <div className="flex min-w-0 flex-1 flex-col">
      <ChecksHead production={production} at="sizes">
        <span role="group" aria-label="Summed by" className="flex gap-1">
          {sizesBy.map((one) => (
            <Choice key={one} on={one === by} onClick={() => setAsked({ by: one })}>
              By {one}
            </Choice>
          ))}
        </span>
      </ChecksHead>
      <p className="border-b border-line px-5 py-3">
        <span className="font-semibold">
          {sayBytes(all.originalBytes)} → {sayBytes(all.outputBytes)}
        </span>
        <span className="text-dim">
          , {sayShare(all)}: {plural(all.outputs, 'output')} of {plural(all.clips, 'clip')}, {saySpan(all.seconds)}{' '}
          long.
          {by === 'deliverable' && ' An original of several outputs counts in each line, and once in the sum.'}
        </span>
      </p>
      <ListTable label="Sizes" lines={data.lines} idOf={({ name }) => name} columns={columns} className="flex-1" />
    </div>
  );
}
