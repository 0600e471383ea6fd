import type { OutputPlace } from '@relay/core/recipe/recipe';
import type { DataSource } from 'typeorm';

/**
 * Names that outputs will get which inlets have begun and that are not made yet, and of which clips: no other original
 * may be made under one of them meanwhile. What is made is told by the records of outputs.
 */
export class ComingNames {
  private readonly clips = new Map<string, string>();

  /** The clip whose output will have a name; undefined where none is on its way. */
  clipOf(place: OutputPlace, path: string): string | undefined {
    return this.clips.get(keyOf(place, path));
  }

  add(place: OutputPlace, path: string, clip: string): void {
    this.clips.set(keyOf(place, path), clip);
  }

  /** Takes in what an inlet had begun before this process did. */
  async load(db: DataSource, inlet: string): Promise<void> {
    const rows = await db.query<{ clip: string; store: string; folder: string; path: string }[]>(
      `SELECT leg.clip_id AS clip, coalesce(output->'place'->>'store', run.store_id) AS store,
         coalesce(output->'place'->>'folder', run.folder) AS folder, output->>'path' AS path
       FROM run
       JOIN leg ON leg.run_id = run.id
       CROSS JOIN LATERAL json_array_elements(leg.plan->'outputs') output
       WHERE run.inlet_id = $1 AND leg.state IN ('waiting', 'held', 'running', 'proving')`,
      [inlet],
    );
    for (const { clip, path, ...place } of rows) this.add(place, path, clip);
  }
}

function keyOf({ store, folder }: OutputPlace, path: string): string {
  return JSON.stringify([store, folder, path]);
}
