import { spawn } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll } from 'vitest';
import { linking } from '@relay/media/process/ffmpeg';
import { built } from './demo.ts';

export interface Spoken {
  code: number | null;
  stdout: string;
  stderr: string;
}

/** Runs a program with arguments and collects what it says. */
export async function call(
  program: string,
  args: readonly string[],
  env: Record<string, string> = {},
): Promise<Spoken> {
  const child = spawn(program, args, {
    env: { ...process.env, ...linking(program), ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const spoken = { stdout: '', stderr: '' };
  child.stdout.on('data', (chunk: Buffer) => (spoken.stdout += chunk.toString()));
  child.stderr.on('data', (chunk: Buffer) => (spoken.stderr += chunk.toString()));
  const code = await new Promise<number | null>((resolve, reject) =>
    child.once('close', resolve).once('error', reject),
  );
  return { code, ...spoken };
}

export function relay(...args: string[]): Promise<Spoken> {
  return call(process.execPath, [built, ...args]);
}

/** Codes an original that a test makes by x264 in little time: how well it is coded is nothing that tests look at. */
export const quickH264 = ['-c:v', 'libx264', '-preset', 'superfast'] as const;

/** FFmpeg for making awkward files in tests; fails loudly. */
export async function ffmpegMakes(...args: string[]): Promise<void> {
  const { code, stderr } = await call('ffmpeg', ['-v', 'error', '-y', ...args]);
  if (code !== 0) throw new Error(stderr);
}

/** A folder that is removed when the tests of a file are over. */
export async function scratchFolder(): Promise<string> {
  const folder = await mkdtemp(join(tmpdir(), 'relay-test-'));
  afterAll(() => rm(folder, { recursive: true, force: true }));
  return folder;
}
