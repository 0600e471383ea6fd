import { PictureChoice } from '../ui/pictureChoice.tsx';
import type { MeasuredAnswer } from './messages.ts';
import { ScopeView, scopeKinds, scopeNames, type ScopeKind } from './scopeView.tsx';

interface MeasuresProps {
  measured: MeasuredAnswer | undefined;
  busy: boolean;
  scope: ScopeKind;
  onScope: (scope: ScopeKind) => void;
}

function Luma({ codes }: { codes: readonly number[] | undefined }) {
  return (
    <span>
      Luma <span className="font-mono text-surround-ink">{codes?.join('–') ?? ''}</span>
    </span>
  );
}

/** Both pictures measured, side by side under them. */
export function Measures({ measured, busy, scope, onScope }: MeasuresProps) {
  return (
    <>
      <div className="flex shrink-0 gap-1 px-3" aria-busy={busy}>
        {measured ? (
          <>
            <ScopeView kind={scope} scopes={measured.before} label="As shot" />
            <ScopeView kind={scope} scopes={measured.after} label="Corrected" />
          </>
        ) : (
          <div className="h-[132px] flex-1 bg-surround-well" />
        )}
      </div>
      <div className="flex min-h-9 shrink-0 flex-wrap items-center justify-between gap-x-3 px-3 text-surround-dim">
        <Luma codes={measured?.before.lumaCodes} />
        <PictureChoice
          label="Measure"
          options={scopeKinds}
          value={scope}
          say={(kind) => scopeNames[kind]}
          onChoose={onScope}
        />
        <Luma codes={measured?.after.lumaCodes} />
      </div>
    </>
  );
}
