import type { RecipeAnswer } from '@relay/contract/recipes';
import type { ProductionAnswer } from '@relay/contract/site';
import { docketWidth } from '../ui/docketWidth.ts';
import { PrepareRun } from '../prepare/prepareRun.tsx';
import { CsvPanel } from './csv.tsx';
import { ClipDocket, SelectionDocket } from './docket.tsx';
import { PatternPanel } from './pattern.tsx';

/** What the docket shows beside what is selected. */
export type Panel = 'none' | 'run' | 'pattern' | 'csv';

interface SideDocketProps {
  panel: Panel;
  onPanel: (panel: Panel) => void;
  production: string;
  /** What a run is numbered by; not known while it loads. */
  facts: ProductionAnswer | undefined;
  filter: string;
  /** A CSV file that was dropped on the page. */
  list: File | null;
  selected: readonly string[];
  /** What is run or named: the selection, or all that is listed. */
  clips: readonly string[];
  recipes: readonly RecipeAnswer[];
}

/** Beside the clips: what is selected, or what is being prepared with it. */
export function SideDocket({ panel, onPanel, ...rest }: SideDocketProps) {
  const wide = panel === 'pattern' || panel === 'csv';
  return (
    <aside
      aria-label="Docket"
      className={`${wide ? `w-[440px] max-lg:w-[320px]` : docketWidth} shrink-0 overflow-auto border-l border-line bg-raised/40`}
    >
      <Within panel={panel} onPanel={onPanel} {...rest} />
    </aside>
  );
}

function Within({ panel, onPanel, production, facts, filter, list, selected, clips, recipes }: SideDocketProps) {
  const close = (): void => onPanel('none');
  switch (panel) {
    case 'run':
      return (
        facts && (
          <PrepareRun
            production={{ id: production, name: facts.name, runs: facts.counts.runs }}
            clips={clips}
            recipes={recipes}
            onClose={close}
          />
        )
      );
    case 'pattern':
      return <PatternPanel production={production} clips={clips} onClose={close} />;
    case 'csv':
      return <CsvPanel given={list} production={production} filter={filter} onClose={close} />;
    case 'none': {
      const [only] = selected;
      const open = { onRun: () => onPanel('run'), onPattern: () => onPanel('pattern') };
      return selected.length === 1 && only !== undefined ? (
        <ClipDocket id={only} production={production} recipe={recipes[0]} {...open} />
      ) : (
        <SelectionDocket ids={selected} production={production} {...open} />
      );
    }
  }
}
