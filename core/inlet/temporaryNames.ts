/**
 * Names under which browsers, copy programs and shares keep what is not whole yet. Common practice, no source: each is
 * what several programs write.
 */
const temporaryEndings = new Set([
  'part',
  'partial',
  'crdownload',
  'download',
  'opdownload',
  'filepart',
  'tmp',
  'temp',
  'incomplete',
  'unfinished',
  'copying',
  'aria2',
  '!ut',
  '!sync',
]);

/** Beginnings of such names: hidden names, and locks that editors lay beside a file that is open. */
const temporaryBeginnings = ['.', '~$', '._', '~lock.'];

function nameOf(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1);
}

function endingOf(name: string): string {
  const dot = name.lastIndexOf('.');
  return dot < 0 ? '' : name.slice(dot + 1).toLowerCase();
}

/** Whether a file's name says that it is somebody's half-made copy, or no file of anybody's. */
export function isTemporaryName(path: string): boolean {
  const name = nameOf(path);
  return temporaryBeginnings.some((beginning) => name.startsWith(beginning)) || temporaryEndings.has(endingOf(name));
}

/**
 * The name for which a temporary one stands: `A.mov` for `A.mov.part`; null for names that are not temporary, or say
 * nothing of another. While the temporary one lies beside it, the other is a place that is kept free, or half of it.
 */
export function standsFor(path: string): string | null {
  const name = nameOf(path);
  const ending = endingOf(name);
  if (!temporaryEndings.has(ending)) return null;
  const whole = path.slice(0, path.length - ending.length - 1);
  return nameOf(whole) === '' ? null : whole;
}
