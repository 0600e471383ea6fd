import type { HandedAnswer } from '@relay/contract/handoffs';
import { clipRows } from '@relay/contract/routes/clips';
import { handoffRows } from '@relay/contract/routes/handoffs';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate, useParams } from 'react-router';
import { addressOf, ask } from '../api/client.ts';
import { oneHandedQuery } from '../api/queries.ts';
import { sayBytes } from '../ui/format.ts';
import { ListTable, type ListColumn } from '../ui/listTable.tsx';
import { blocks, Button, Loading, ProblemNote, problemOf, toastProblem } from '../ui/pieces.tsx';
import { Remove } from '../ui/remove.tsx';
import { HandedBeside } from './handedBeside.tsx';
import { LostButton, VerifyButton } from './returned.tsx';
import { HandedState } from './handedState.tsx';

type Item = HandedAnswer['items'][number];

/** One hand-off: how it stands, what is in it, what was left behind, and what happened to it. */
export function HandedPage() {
  const { handoff = '', production = '' } = useParams();
  const { data, error, refetch } = useQuery(oneHandedQuery(handoff));
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data)
    return (
      <div className="flex-1">
        <Loading what="The hand-off" rows={4} />
      </div>
    );
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col gap-4 px-6 py-5">
      <Head production={production} handed={data} />
      <div className="grid min-h-0 flex-1 grid-cols-[1fr_22rem] gap-6 max-lg:grid-cols-1">
        <ListTable
          label="What is in it"
          className="min-h-48"
          lines={data.items}
          idOf={({ place }) => String(place)}
          columns={columnsIn(production, data.id)}
        />
        <HandedBeside production={production} handed={data} />
      </div>
    </div>
  );
}

function Head({ production, handed }: { production: string; handed: HandedAnswer }) {
  const client = useQueryClient();
  const go = useNavigate();
  const anew = () => client.invalidateQueries({ queryKey: ['handoffs'] });
  const stop = useMutation({
    mutationFn: () => ask(handoffRows.stop, { handoff: handed.id }),
    onSuccess: anew,
    onError: toastProblem,
  });
  const goOn = useMutation({
    mutationFn: () => ask(handoffRows.goOn, { handoff: handed.id }),
    onSuccess: anew,
    onError: toastProblem,
  });
  const open = handed.state === 'waiting' || handed.state === 'copying';
  return (
    <header className="flex items-start gap-3">
      <div className="min-w-0 flex-1">
        <h1 className="text-xl font-semibold break-words">
          {handed.name} <span className="text-[13px] font-normal text-dim">for {handed.receiver}</span>
        </h1>
        <p className="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1">
          <HandedState line={handed} />
          <span className="text-dim">
            {handed.storeName}
            {handed.folder === '' ? '' : `, ${handed.folder}`}
          </span>
        </p>
      </div>
      {open && (
        <Button disabled={stop.isPending} onClick={() => stop.mutate()}>
          Stop
        </Button>
      )}
      {(handed.state === 'stopped' || handed.state === 'failed') && (
        <Button main disabled={goOn.isPending} onClick={() => goOn.mutate()}>
          Go on
        </Button>
      )}
      <a
        className="inline-flex h-8 items-center px-1 underline underline-offset-4"
        href={addressOf(handoffRows.all, { handoff: handed.id })}
        download
      >
        Download all
      </a>
      {!open && handed.manifest !== null && <LostButton handed={handed} />}
      {!open && handed.manifest !== null && <VerifyButton handed={handed} />}
      {!open && (
        <Remove
          what={handed.name}
          says="That they hold it is known no more: the next hand-off sends it again."
          remove={() => ask(handoffRows.forget, { handoff: handed.id })}
          onRemoved={() => void go(`/p/${production}/handoffs`)}
        />
      )}
    </header>
  );
}

function columnsIn(production: string, handoff: string): ListColumn<Item>[] {
  return [
    {
      id: 'picture',
      name: 'Picture',
      track: '4.5rem',
      of: ({ path }) => path,
      show: ({ poster, clip }) =>
        poster && clip !== null ? (
          <img
            src={addressOf(clipRows.poster, { clip })}
            alt=""
            loading="lazy"
            className="h-9 w-16 rounded-sm bg-lane object-contain"
          />
        ) : null,
    },
    {
      id: 'path',
      name: 'Path',
      track: 'minmax(0,1fr)',
      of: ({ path }) => path,
      show: ({ path, output }) =>
        output === null ? (
          <span className="font-mono text-[12px] break-all">{path}</span>
        ) : (
          <Link
            className="font-mono text-[12px] break-all underline underline-offset-4"
            to={`/p/${production}/checks/${output}`}
          >
            {path}
          </Link>
        ),
    },
    {
      id: 'kind',
      name: 'What',
      track: '7rem',
      of: ({ kind }) => kind,
      show: ({ kind, replaces }) => `${kind === 'lut' ? 'LUT' : kind}${replaces ? ', anew' : ''}`,
    },
    {
      id: 'size',
      name: 'Size',
      track: '6rem',
      right: true,
      of: ({ sizeBytes }) => sizeBytes,
      show: ({ sizeBytes }) => sayBytes(sizeBytes),
    },
    {
      id: 'there',
      name: 'There',
      track: '5rem',
      of: ({ came }) => (came ? 1 : 0),
      show: ({ came }) => (came ? 'proved' : '–'),
    },
    {
      id: 'take',
      name: 'As a file',
      track: '6rem',
      of: ({ place }) => place,
      show: ({ place, path }) => (
        <a
          className="underline underline-offset-4"
          href={addressOf(handoffRows.file, { handoff, place: String(place) })}
          aria-label={`Download ${path}`}
          download
        >
          Download
        </a>
      ),
    },
  ];
}
