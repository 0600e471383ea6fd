/** What a file that is dropped into the page is taken as, by its ending. */
export type DroppedKind = 'lut' | 'recipe' | 'list' | 'cut' | 'clip';

const endings: Readonly<Record<string, DroppedKind>> = {
  cube: 'lut',
  clf: 'lut',
  cc: 'lut',
  ccc: 'lut',
  cdl: 'lut',
  json: 'recipe',
  csv: 'list',
  edl: 'cut',
  otio: 'cut',
};

export function droppedKind(name: string): DroppedKind {
  return endings[/\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase() ?? ''] ?? 'clip';
}
