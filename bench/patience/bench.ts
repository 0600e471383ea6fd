import { finishAndCut } from '@relay/core/recipe/recipe';
import { refreshClips } from '@relay/server/clips/refresh';
import { inventClips, withSite } from '../site.ts';
import { startAsker, type Asked } from './asker.ts';
import { csvs, layInputs } from './inputs.ts';

const clips = 10_000;
/** The heartbeat's own step, in milliseconds, and the longest gap that is aimed at. */
const [step, aim] = [5, 100];

/**
 * Every route that strangers' files, or a whole production, go through, beside a heartbeat in the same process: the
 * longest that anything else waited.
 */
export async function benchPatience(): Promise<void> {
  await withSite(async ({ db, at, store }) => {
    await layInputs(store);
    const production = await inventClips(db, clips);
    await refreshClips(db, production);
    await db.query('ANALYZE clip');
    const ids = (
      await db.query<{ id: string }[]>('SELECT id FROM clip WHERE production_id = $1 ORDER BY path', [production])
    ).map(({ id }) => id);
    const [recipe] = await db.query<{ id: string }[]>('INSERT INTO recipe (definition) VALUES ($1) RETURNING id', [
      JSON.stringify(finishAndCut),
    ]);
    // A roll whose copy has a hundred thousand files in its manifest.
    const [roll] = await db.query<{ id: string }[]>(
      `INSERT INTO roll (production_id, name, day, card_store, card_folder, hash) VALUES ($1, 'A001', 'day-1', 'raid', 'many', 'xxh128') RETURNING id`,
      [production],
    );
    await db.query(`INSERT INTO roll_copy (roll_id, ordinal, store_id, folder) VALUES ($1, 0, 'raid', 'history')`, [
      roll?.id,
    ]);
    const asker = startAsker(at);
    let [last, gap] = [performance.now(), 0];
    const heart = setInterval(() => {
      const now = performance.now();
      gap = Math.max(gap, now - last - step);
      last = now;
    }, step);
    const rows: { name: string; gap: number; milliseconds: number; status: number }[] = [];
    try {
      for (const [name, asked] of questions(production, ids, recipe?.id ?? '', roll?.id ?? '')) {
        await new Promise((resolve) => setTimeout(resolve, 60));
        gap = 0;
        const { status, milliseconds, text } = await asker.ask(asked);
        const longest = gap;
        rows.push({ name, gap: longest, milliseconds, status });
        console.log(
          `${name.padEnd(44)} ${longest.toFixed(0).padStart(6)} ms held, answered in ${milliseconds.toFixed(0).padStart(6)} ms, ${status}${status >= 500 || status === 0 ? ` ${text}` : ''}`,
        );
      }
    } finally {
      clearInterval(heart);
      await asker.close();
    }
    const worst = rows.reduce((a, b) => (b.gap > a.gap ? b : a));
    console.log(
      `longest gap: ${worst.gap.toFixed(0)} ms (${worst.name}); aim: ${aim} ms; ${rows.filter((row) => row.gap > aim).length} of ${rows.length} over it`,
    );
  });
}

function questions(production: string, ids: readonly string[], recipe: string, roll: string): [string, Asked][] {
  const get = (path: string): Asked => ({ method: 'GET', path });
  const post = (path: string, body: unknown): Asked => ({ method: 'POST', path, body: JSON.stringify(body) });
  const of = `/productions/${production}`;
  const choice = { clips: ids, recipe, store: 'raid', folder: 'out' };
  const luts = ['cube129.cube', 'quadratic.clf', 'comments.clf', 'attributes.clf', 'long.cube'];
  const cards = ['empty-elements', 'unclosed', 'unquoted', 'sums', 'history', 'chain', 'pipe', 'many'];
  return [
    ['nothing', get('/site')],
    ['productions', get('/productions')],
    ...cards.map((name): [string, Asked] => [`a card: ${name}`, get(`${of}/card?store=raid&folder=${name}`)]),
    ['a roll of 100,000 files', get(`/rolls/${roll}`)],
    ...luts.map((name): [string, Asked] => [
      `a LUT: ${name}`,
      post('/luts/from-store', { store: 'raid', path: `luts/${name}` }),
    ]),
    ...Object.entries(csvs(ids)).map(([name, text]): [string, Asked] => [
      name,
      post(`${of}/identity/csv/preview`, { text }),
    ]),
    ['a folder of 1,900 parts', get(`/stores/raid/folders?folder=${encodeURIComponent('a/'.repeat(1_900))}`)],
    ['a folder of 60,000 files', get('/stores/raid/folders?folder=many')],
    ['JSON nested deep', { method: 'POST', path: '/productions', body: `${'['.repeat(60_000)}${']'.repeat(60_000)}` }],
    ['the sheet', get(`${of}/clips`)],
    ['the sheet, filtered', get(`${of}/clips?filter=${encodeURIComponent('decide -h.264')}`)],
    ['what all clips have in common', post(`${of}/clips/common`, { clips: ids })],
    ['lines of many', post(`${of}/clips/lines`, { clips: ids.slice(0, 500) })],
    ['clips as CSV', get(`${of}/clips.csv`)],
    ['a pattern over all', post(`${of}/identity/preview`, { clips: ids, field: 'reel', pattern: '[name]' })],
    ["the bench's groups", get(`${of}/bench`)],
    ['what a recipe makes', post(`${of}/recipe-preview`, { clips: [], definition: finishAndCut })],
    ['the check before a run', post(`${of}/run-check`, choice)],
    ['a rate for the production', post(of, { rate: { num: 25, den: 1 } })],
    ['a chain for the production', post(`${of}/colour`, { to: { scope: 'production' }, chain: null })],
    ['an answer for all', post(`${of}/decisions`, { clips: ids, rule: 'noTimecode', answer: 'as it is', note: '' })],
    ['a run of everything', post(`${of}/runs`, { ...choice, name: 'Everything', asTheyAre: true })],
    ['runs', get(`${of}/runs`)],
    ['outputs', get(`${of}/outputs`)],
    ["the day's report", get(`${of}/report`)],
  ];
}
