import { expect, it } from 'vitest';
import { systemOf, systemPath } from './systemPath.ts';

it.each([
  ['S:\\', 'night/intermediate/a.mov', 'windows', 'S:\\night\\intermediate\\a.mov'],
  ['\\\\shuttle\\share', 'night', 'windows', '\\\\shuttle\\share\\night'],
  ['/Volumes/Shuttle/', '/night//a.mov', 'mac', '/Volumes/Shuttle/night/a.mov'],
  ['/', 'night', 'linux', '/night'],
  ['S:\\', '', 'windows', 'S:\\'],
] as const)('%s and %s on %s is %s', (root, path, system, whole) => expect(systemPath(root, path, system)).toBe(whole));

it('a browser says what it runs on', () => {
  expect(systemOf('Mozilla/5.0 (Windows NT 10.0; Win64; x64)')).toBe('windows');
  expect(systemOf('Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7)')).toBe('mac');
  expect(systemOf('Mozilla/5.0 (X11; Linux x86_64)')).toBe('linux');
});
