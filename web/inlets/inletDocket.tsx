import type { InletAnswer, InletThing } from '@relay/contract/inlets';
import { inletRows } from '@relay/contract/routes/inlets';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { ask } from '../api/client.ts';
import { inletQuery, recipesQuery, storesQuery } from '../api/queries.ts';
import { Shares } from '../runs/page.tsx';
import { plural, sayBytes, sayClock } from '../ui/format.ts';
import { LevelNote } from '../ui/levelMark.tsx';
import { blocks, Button, Key, Loading, ProblemLine, ProblemNote, problemOf, toastProblem } from '../ui/pieces.tsx';
import { Remove } from '../ui/remove.tsx';
import { sayInlet } from './inletDraft.ts';

interface InletDocketProps {
  production: string;
  id: string;
  onChange: () => void;
  onPause: (paused: boolean) => void;
  onRemoved: () => void;
}

/** One inlet: what it does, what waits in it and why, and what became of what it took up. */
export function InletDocket({ production, id, onChange, onPause, onRemoved }: InletDocketProps) {
  const client = useQueryClient();
  const { data, error, refetch } = useQuery(inletQuery(id));
  const { data: recipes = [] } = useQuery(recipesQuery);
  const { data: stores = [] } = useQuery(storesQuery);
  const drop = useMutation({
    mutationFn: () => ask(inletRows.drop, { inlet: id }),
    onSuccess: () => {
      toast('A painted card is being copied in', { description: 'It takes about a quarter of a minute.' });
      return client.invalidateQueries({ queryKey: ['inlets'] });
    },
    onError: toastProblem,
  });
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data) return <Loading what="The inlet" rows={5} />;
  const { definition, paused, now } = data;
  return (
    <section aria-label={definition.name} className="flex flex-col gap-5 p-5">
      <header className="flex flex-col gap-2">
        <h2 className="text-[15px] font-semibold break-words">{definition.name}</h2>
        <p className="break-words text-dim">{sayInlet(definition, { recipes, stores })}</p>
        <div className="flex flex-wrap gap-2">
          <Button main={paused} onClick={() => onPause(!paused)}>
            {paused ? 'Let it go on' : 'Pause'} <Key {...(paused ? { on: 'clay' as const } : {})}>Space</Key>
          </Button>
          <Button onClick={onChange}>
            Change… <Key>E</Key>
          </Button>
          {data.demo && (
            <Button onClick={() => drop.mutate()} disabled={drop.isPending}>
              Drop a painted card
            </Button>
          )}
          <Remove
            what={definition.name}
            says="What it took up is known no more; its runs and their outputs stay."
            remove={() => ask(inletRows.remove, { inlet: id })}
            onRemoved={onRemoved}
          />
        </div>
      </header>
      {now.problem && <ProblemLine problem={now.problem} />}
      <Waiting data={data} />
      <TakenUp production={production} data={data} />
    </section>
  );
}

function Waiting({ data: { now, paused, definition } }: { data: InletAnswer }) {
  if (paused)
    return <LevelNote level="note">While it is paused nothing is taken up. All of it is when it goes on.</LevelNote>;
  if (now.waiting === 0 && now.passed.length === 0)
    return (
      <p className="text-dim">
        {definition.source.kind === 'rolls'
          ? 'Nothing waits. A roll is taken up when its copies are proved and it was read.'
          : `Nothing waits. What arrives is taken up when it was quiet for ${plural(definition.quietSeconds, 'second')}.`}
      </p>
    );
  return (
    <section aria-label="What waits" aria-live="polite">
      <h3 className="mb-1 font-semibold text-dim">Waits</h3>
      <ul className="border-t border-line">
        {now.first.map(({ thing, files, why, seconds }) => (
          <li key={thing} className="grid grid-cols-[1fr_auto] gap-x-3 border-b border-line py-1.5">
            <span className="truncate font-mono" title={thing}>
              {thing}
            </span>
            <span className="font-mono text-dim">{seconds === null ? '' : `${seconds} s`}</span>
            <span className="col-span-2 break-words text-dim">
              {files > 1 ? `${plural(files, 'file')}; ` : ''}
              {why}
            </span>
          </li>
        ))}
      </ul>
      {now.passed.map(({ path, why }) => (
        <p key={path} className="mt-1 break-words text-dim">
          <span className="font-mono">{path}</span> is passed over: {why}
        </p>
      ))}
      {now.waiting > now.first.length && <p className="mt-1 text-dim">and {now.waiting - now.first.length} more</p>}
    </section>
  );
}

function TakenUp({ production, data: { things } }: { production: string; data: InletAnswer }) {
  if (things.length === 0) return null;
  return (
    <section aria-label="What it took up">
      <h3 className="mb-1 font-semibold text-dim">Taken up</h3>
      <ul className="border-t border-line">
        {things.map((thing) => (
          <Thing key={thing.id} production={production} thing={thing} />
        ))}
      </ul>
    </section>
  );
}

function sayThing({ files, bytes, clips, known }: InletThing): string {
  const parts = [`${plural(files, 'file')}, ${sayBytes(bytes)}`];
  if (clips > 0) parts.push(plural(clips, 'clip'));
  if (known > 0) parts.push(known === 1 ? '1 is known already' : `${known} are known already`);
  return parts.join('; ');
}

/** How a thing ended, and where it lies then. */
function sayEnd({ end, at, lies }: NonNullable<InletThing['ended']>): string {
  const said =
    end === 'made' ? 'All made' : end === 'left' ? 'Not all made' : end === 'stopped' ? 'Stopped' : 'Needs eyes';
  return `${said}, ${sayClock(new Date(at))}${lies === '' ? '' : `; lies in ${lies} now`}`;
}

function Thing({ production, thing }: { production: string; thing: InletThing }) {
  const client = useQueryClient();
  const again = useMutation({
    mutationFn: () => ask(inletRows.again, { thing: thing.id }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['inlets'] }),
    onError: toastProblem,
  });
  return (
    <li className="flex flex-col gap-1 border-b border-line py-2">
      <span className="flex items-baseline gap-3">
        <span className="min-w-0 flex-1 truncate font-mono" title={thing.key}>
          {thing.key}
        </span>
        <span className="font-mono text-dim">{sayClock(new Date(thing.takenAt))}</span>
      </span>
      <span className="text-dim">{sayThing(thing)}</span>
      {Object.keys(thing.legs).length > 0 && <Shares legs={thing.legs} />}
      {thing.ended && <p className="text-dim">{sayEnd(thing.ended)}</p>}
      {thing.trouble !== null && <LevelNote>{thing.trouble}.</LevelNote>}
      {thing.runs.map(({ id, name }) => (
        <Link key={id} to={`/p/${production}/runs/${id}`} className="w-fit underline underline-offset-4">
          {name}
        </Link>
      ))}
      {thing.waits.map(({ clip, what, remedy }) => (
        <LevelNote key={clip}>
          <span className="break-words">
            {what}. {remedy}.
          </span>{' '}
          <Link to={`/p/${production}/clips?clips=${clip}`} className="underline underline-offset-4">
            Decide
          </Link>
        </LevelNote>
      ))}
      {thing.left.map(({ path, what, remedy }) => (
        <ProblemLine key={path} problem={{ what, remedy }} />
      ))}
      {thing.left.length > 0 && (
        <Button className="h-7 w-fit px-2.5" onClick={() => again.mutate()} disabled={again.isPending}>
          Try again
        </Button>
      )}
    </li>
  );
}
