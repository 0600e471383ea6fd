import { describe, expect, it } from 'vitest';
import { following, forNobody, proposedFor } from './receiver.ts';

const receivers = [{ name: 'The edit', fileSystem: 'ntfs', roots: { windows: 'E:\\' }, handoffs: 2 }] as const;

describe('what follows from a receiver', () => {
  it('is their next number, a folder of theirs, and their drive as it was', () => {
    expect(proposedFor(' the Edit ', [...receivers])).toEqual({
      name: 'the Edit 3',
      folder: 'hand-offs/the-edit',
      fileSystem: 'ntfs',
      roots: { windows: 'E:\\' },
    });
    expect(proposedFor('The online', [...receivers])).toMatchObject({ name: 'The online 1', fileSystem: 'exfat' });
    expect(proposedFor('  ', [...receivers])).toEqual(forNobody);
  });

  it('is said anew when it becomes known who they are, after their name was typed', () => {
    const early = proposedFor('The edit');
    expect(early.name).toBe('The edit 1');
    // As the form holds it: a field for each system.
    const stands = { ...early, roots: { windows: '', mac: '' } };
    expect(following(stands, early, proposedFor('The edit', [...receivers]))).toEqual({
      name: 'The edit 3',
      folder: 'hand-offs/the-edit',
      fileSystem: 'ntfs',
      roots: { windows: 'E:\\' },
    });
  });

  it('leaves alone what somebody said otherwise', () => {
    const early = proposedFor('The edit');
    const said = { ...early, name: 'Reel 4', folder: 'drive', fileSystem: null, roots: { mac: '/Volumes/X' } };
    expect(following(said, early, proposedFor('The edit', [...receivers]))).toEqual(said);
    expect(following({ ...said, folder: '' }, early, proposedFor('The edit', [...receivers]))).toMatchObject({
      name: 'Reel 4',
      folder: 'hand-offs/the-edit',
    });
  });
});
