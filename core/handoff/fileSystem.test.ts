import { describe, expect, it } from 'vitest';
import { limitsOf } from './fileSystem.ts';

describe('what file systems take at most', () => {
  // Longest name, largest file, longest path. exFAT specification 7.7 (of 64-bit lengths, 2^32 clusters of 32 MB);
  // Microsoft, NTFS overview (16 TB less 64 kB); Apple File System Reference (63 bits); ext4 in the kernel's documentation
  // (2^32 blocks of 4 kB); Microsoft FAT specification (32 bits). Written out here, so that no power can be off by one.
  it.each([
    ['exfat', 255, 144_115_188_075_855_872, 256],
    ['ntfs', 255, 17_592_185_978_880, 256],
    ['apfs', 255, 9_223_372_036_854_775_808, 1_023],
    ['ext4', 255, 17_592_186_044_416, 4_095],
    ['fat32', 255, 4_294_967_295, 256],
  ] as const)('%s', (system, name, file, path) => {
    const { longestName, largestFile, longestPath } = limitsOf[system];
    expect([longestName.most, largestFile, longestPath.most]).toEqual([name, file, path]);
  });
});
