import type { RehearsalAnswer } from '@relay/contract/cuts';
import { isFound } from '@relay/core/relink/grade';
import { plural } from '../ui/format.ts';
import { counted, gradeWords, kinds } from './grades.ts';

/** The rehearsal on paper: how many events are of each kind, and all that ask for somebody. */
export function Paper({ rehearsal }: { rehearsal: RehearsalAnswer }) {
  const { cut, version, events, rate, rateWhy, length, remarks } = rehearsal;
  const counts = counted(events);
  const asking = events.filter(({ grade }) => grade !== null && !isFound(grade));
  return (
    <section aria-label="Rehearsal on paper" className="hidden p-6 print:block">
      <h2 className="text-lg font-semibold">
        {cut.name}, version {version.number}
      </h2>
      <p>
        {plural(version.events, 'event')}, {length} at {rate}. {rateWhy}.
      </p>
      <p>{kinds.map((kind) => `${counts[kind]} ${kind}`).join(', ')}.</p>
      {asking.length > 0 && (
        <table className="mt-4 w-full text-left">
          <thead>
            <tr>
              {['Event', 'Record in', 'Reel', 'Name', 'Source in', 'Source out', 'Found', 'Why'].map((name) => (
                <th key={name} className="border-b border-line pr-3 font-semibold">
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {asking.map(({ index, number, recordIn, reel, clip, sourceIn, sourceOut, grade, why }) => (
              <tr key={index} className="break-inside-avoid border-b border-line align-top">
                <td className="pr-3 font-mono">{number}</td>
                <td className="pr-3 font-mono">{recordIn}</td>
                <td className="pr-3 break-all">{reel}</td>
                <td className="pr-3 break-all">{clip}</td>
                <td className="pr-3 font-mono">{sourceIn}</td>
                <td className="pr-3 font-mono">{sourceOut}</td>
                <td className="pr-3 whitespace-nowrap">{grade && gradeWords[grade]}</td>
                <td>{why}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {remarks.length > 0 && (
        <ul className="mt-4">
          {remarks.map(({ line, what }, index) => (
            <li key={index}>{line === null ? what : `Line ${line}: ${what}`}</li>
          ))}
        </ul>
      )}
    </section>
  );
}
