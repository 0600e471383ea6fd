import { burnFacts, type BurnFact, type BurnLine, type BurnPiece } from '@relay/core/burn/layout';
import { X } from 'lucide-react';
import { inputLook } from '../ui/pieces.tsx';
import { selectLook } from '../corrections/row.tsx';

/** The pieces of one line: facts and words, side by side. */
export function Pieces({
  label,
  pieces,
  onChange,
}: {
  label: string;
  pieces: readonly BurnPiece[];
  onChange: (pieces: BurnPiece[]) => void;
}) {
  const set = (index: number, piece: BurnPiece): void => onChange(pieces.map((one, i) => (i === index ? piece : one)));
  const drop = (index: number): void => onChange(pieces.filter((_, i) => i !== index));
  return (
    <div role="group" aria-label={label} className="flex flex-col gap-1.5">
      {pieces.map((piece, index) => (
        <div key={index} className="flex items-center gap-1.5">
          {piece.kind === 'fact' ? (
            <select
              aria-label={`${label}, piece ${index + 1}`}
              value={piece.fact}
              onChange={(event) => set(index, { kind: 'fact', fact: event.target.value as BurnFact })}
              className={selectLook}
            >
              {Object.entries(burnFacts).map(([fact, name]) => (
                <option key={fact} value={fact}>
                  {name}
                </option>
              ))}
            </select>
          ) : (
            <input
              aria-label={`${label}, piece ${index + 1}, words`}
              value={piece.text}
              maxLength={120}
              placeholder="words"
              onChange={(event) => set(index, { kind: 'text', text: event.target.value })}
              className={inputLook}
            />
          )}
          <button
            type="button"
            aria-label={`Take piece ${index + 1} out`}
            onClick={() => drop(index)}
            className="rounded p-1 text-dim hover:bg-raised hover:text-ink"
          >
            <X className="size-3.5" aria-hidden />
          </button>
        </div>
      ))}
      {pieces.length < 8 && (
        <div className="flex gap-3">
          <button
            type="button"
            onClick={() => onChange([...pieces, { kind: 'fact', fact: pieces.length === 0 ? 'name' : 'scene' }])}
            className="text-dim underline-offset-2 hover:text-ink hover:underline"
          >
            and a fact
          </button>
          <button
            type="button"
            onClick={() => onChange([...pieces, { kind: 'text', text: 'words' }])}
            className="text-dim underline-offset-2 hover:text-ink hover:underline"
          >
            and words
          </button>
        </div>
      )}
    </div>
  );
}

/** Lines of one place of the grid, in their order from the top. */
export function Lines({
  at,
  lines,
  onChange,
}: {
  at: BurnLine['at'];
  lines: readonly BurnLine[];
  onChange: (lines: BurnLine[]) => void;
}) {
  const here = lines.filter((line) => line.at === at);
  const others = lines.filter((line) => line.at !== at);
  const put = (next: BurnLine[]): void => onChange([...others, ...next]);
  return (
    <section aria-label={`Lines at ${at}`} className="flex flex-col gap-3">
      <h2 className="font-semibold">Lines at {at}</h2>
      {here.length === 0 && <p className="text-dim">Nothing stands here.</p>}
      {here.map((line, index) => (
        <div key={index} className="flex flex-col gap-1.5 border-b border-line/70 pb-3">
          <div className="flex justify-between gap-2">
            <span className="text-dim">Line {index + 1}</span>
            <button
              type="button"
              onClick={() => put(here.filter((_, i) => i !== index))}
              className="text-dim hover:text-ink"
            >
              Take out
            </button>
          </div>
          <Pieces
            label={`Line ${index + 1} at ${at}`}
            pieces={line.pieces}
            onChange={(pieces) =>
              put(
                pieces.length === 0
                  ? here.filter((_, i) => i !== index)
                  : here.map((one, i) => (i === index ? { ...one, pieces } : one)),
              )
            }
          />
        </div>
      ))}
      {here.length < 4 && (
        <button
          type="button"
          onClick={() => put([...here, { at, pieces: [{ kind: 'fact', fact: 'name' }] }])}
          className="inline-flex h-8 items-center justify-center rounded-md border border-line px-3.5 hover:bg-raised"
        >
          Add a line at {at}
        </button>
      )}
    </section>
  );
}
