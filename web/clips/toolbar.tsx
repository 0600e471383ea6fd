import { Search } from 'lucide-react';
import type { RefObject } from 'react';
import { plural } from '../ui/format.ts';
import { Button, Key } from '../ui/pieces.tsx';
import { ColumnsMenu, type ColumnsMenuProps } from './columnsMenu.tsx';
import { SavedFilters } from './filters.tsx';
import type { RunNew } from './useRunNew.ts';

interface FilterFieldProps {
  field: RefObject<HTMLInputElement | null>;
  typed: string;
  onType: (words: string) => void;
}

function FilterField({ field, typed, onType }: FilterFieldProps) {
  return (
    <label className="relative w-64 min-w-36 shrink">
      <span className="sr-only">Filter the clips</span>
      <Search className="pointer-events-none absolute top-2 left-2.5 size-4 text-faint" aria-hidden />
      <input
        ref={field}
        value={typed}
        onChange={(event) => onType(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Escape') {
            onType('');
            event.currentTarget.blur();
          }
        }}
        placeholder="Any word of it; -word leaves out"
        className="h-8 w-full rounded-md border border-line bg-ground pr-8 pl-8 placeholder:text-faint"
      />
      <span className="pointer-events-none absolute top-1.5 right-2">
        <Key>/</Key>
      </span>
    </label>
  );
}

interface ToolbarProps extends FilterFieldProps {
  production: string;
  filter: string;
  /** Clips that are listed, of all there are, and those chosen. */
  listed: number;
  all: number;
  selected: number;
  /** Whether a column is sorted by, instead of the groups. */
  sorted: boolean;
  onGroups: () => void;
  dense: boolean;
  onDense: () => void;
  columns: ColumnsMenuProps;
  csv: boolean;
  onCsv: () => void;
  /** Whether running all is the next thing to do. */
  runIsNext: boolean;
  onRun: () => void;
  /** Runs what is new; null before anything was run. */
  runNew: RunNew | null;
}

/** Above the clips: what is listed, how, and what can be done with all of it. */
export function Toolbar(props: ToolbarProps) {
  const { filter, listed, selected, dense, csv } = props;
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-line px-5 py-2">
      <FilterField field={props.field} typed={props.typed} onType={props.onType} />
      <SavedFilters production={props.production} words={filter} onChoose={props.onType} />
      <span role="status" className="min-w-0 truncate text-dim">
        {filter ? `${listed} of ${props.all} clips` : plural(listed, 'clip')}
        {selected > 0 && `, ${selected} selected`}
      </span>
      {props.sorted && (
        <button
          type="button"
          className="shrink-0 text-dim underline underline-offset-4 hover:text-ink"
          onClick={props.onGroups}
        >
          Back to groups
        </button>
      )}
      <span className="ml-auto flex flex-wrap items-center justify-end gap-2">
        <ColumnsMenu {...props.columns} />
        <Button aria-pressed={dense} onClick={props.onDense}>
          {dense ? 'Roomy' : 'Dense'}
        </Button>
        <Button aria-pressed={csv} onClick={props.onCsv}>
          CSV
        </Button>
        {selected === 0 && props.runNew && (
          <Button disabled={props.runNew.busy} onClick={props.runNew.begin}>
            Run what is new… <Key>N</Key>
          </Button>
        )}
        {selected === 0 && (
          <Button main={props.runIsNext} onClick={props.onRun}>
            Run all {listed}… <Key on="clay">R</Key>
          </Button>
        )}
      </span>
    </div>
  );
}
