import { failureOf } from '@relay/media/process/ffmpeg';
import { describe, expect, it } from 'vitest';
import { diskProblem } from './diskProblem.ts';
import { NameTaken } from './place.ts';

/** As Node.js throws what the system says (errno(3)). */
function thrown(code: string): NodeJS.ErrnoException {
  return Object.assign(new Error(`${code}: something, open '/proc/self/fd/9/out.mov'`), { code });
}
const at = '/stores/raid/out.mov';

describe('what a disk says, in words and by its kind', () => {
  it.each(['ENOSPC', 'EDQUOT', 'EFBIG'])('%s: it is full', (code) => {
    expect(diskProblem(thrown(code), at)).toEqual({
      kind: 'disk full',
      what: `The disk is full: ${at} could not be finished`,
      remedy: expect.stringContaining('Free space'),
    });
  });

  it.each(['EACCES', 'EPERM', 'EROFS'])('%s: it may not be written, and the code stands there', (code) => {
    const problem = diskProblem(thrown(code), at);
    expect(problem).toMatchObject({ kind: 'not writable', what: `${at} may not be written (${code})` });
    expect(problem.remedy).toContain('the right to write');
  });

  it.each(['EIO', 'EXDEV', 'ENOENT', 'ESTALE'])('%s: it could not be finished, for what the system said', (code) => {
    const problem = diskProblem(thrown(code), at);
    expect(problem.kind).toBeUndefined();
    expect(problem.what).toMatch(new RegExp(`^${at} could not be finished: ${code}`));
  });

  it('a name that is too long, one that is taken, and a place that is no folder say so', () => {
    expect(diskProblem(thrown('ENAMETOOLONG'), at).what).toContain('longer name than this disk can hold');
    expect(diskProblem(new NameTaken(at), at).what).toBe(`${at} is there already and was left as it is`);
    expect(diskProblem(Object.assign(new Error('a link'), { code: 'RELAY_NOT_AS_IT_SHOULD' }), at)).toEqual({
      what: 'a link',
      remedy: expect.stringContaining('real folder'),
    });
  });
});

it('a disk that FFmpeg found full is full: it says so by its words alone', () => {
  const error = failureOf(
    '[out#0/mov @ 0x55d] Error writing trailer of file:out.mov: No space left on device\nConversion failed!\n',
  );
  expect(diskProblem(error, at).kind).toBe('disk full');
  expect(diskProblem(failureOf('Conversion failed!'), at)).toEqual({
    what: `${at} could not be finished: Conversion failed!`,
    remedy: 'See that the store is mounted, then retry',
  });
});
