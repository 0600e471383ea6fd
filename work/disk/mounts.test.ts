import { expect, it } from 'vitest';
import { isDrive, isWithin, mountOf, mountsIn, mountsNow } from './mounts.ts';

// The first line is the example of proc_pid_mountinfo(5).
const table = `36 35 98:0 /mnt1 /mnt2 rw,noatime master:1 - ext3 /dev/root rw,errors=continue
40 1 8:1 / / rw,relatime shared:1 - ext4 /dev/sda1 rw
51 40 8:17 / /media/ada/SALT\\040A001 ro,nosuid - exfat /dev/sdb1 ro
52 40 0:44 / /mnt/raid rw - nfs4 raid:/vol rw
53 52 8:33 / /mnt/raid rw - xfs /dev/sdc1 rw
broken line
54 40 8:1
`;

it('reads a table of mounts: names with blanks, read-only ones, and the upper of two at one place', () => {
  expect(mountsIn(table)).toEqual([
    { path: '/mnt2', kind: 'ext3', device: '98:0', source: '/dev/root', readOnly: false },
    { path: '/', kind: 'ext4', device: '8:1', source: '/dev/sda1', readOnly: false },
    { path: '/media/ada/SALT A001', kind: 'exfat', device: '8:17', source: '/dev/sdb1', readOnly: true },
    { path: '/mnt/raid', kind: 'xfs', device: '8:33', source: '/dev/sdc1', readOnly: false },
  ]);
  expect(mountsIn('')).toEqual([]);
  const [memory] = mountsIn('28 27 0:25 / /mnt/tools ro - tmpfs none ro');
  expect([...mountsIn(table), memory].map((mount) => mount && isDrive(mount))).toEqual([true, true, true, true, false]);
});

it('a path lies on the innermost mount, by whole names', () => {
  const mounts = mountsIn(table);
  expect(mountOf(mounts, '/media/ada/SALT A001/DCIM')?.device).toBe('8:17');
  expect(mountOf(mounts, '/media/ada/SALT A0012')?.path).toBe('/');
  expect([isWithin('/a', '/a'), isWithin('/ab', '/a'), isWithin('/a/b', '/a'), isWithin('/a', '/')]).toEqual([
    true,
    false,
    true,
    true,
  ]);
});

it('finds the root of this very machine, and nothing where there is no table', async () => {
  expect(mountOf(await mountsNow('/proc/self/mountinfo'), '/')?.path).toBe('/');
  expect(await mountsNow('/nonexistent')).toEqual([]);
});
