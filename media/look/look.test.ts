import { open, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { isRefusal, type ClipDescription } from '@relay/core/clip/description';
import { joinChapters } from '@relay/core/clip/chapters';
import { describe, expect, it } from 'vitest';
import { call, ffmpegMakes, scratchFolder } from '../../testing/commands.ts';
import { demoCards, saltLantern } from '../../testing/demo.ts';
import { describeFile } from '../describe/describe.ts';
import { lookClosely, type Look } from './look.ts';
import { placesIn } from './places.ts';

async function clipAt(path: string): Promise<ClipDescription> {
  const entry = await describeFile(path, path.split('/').at(-1) as string);
  if (isRefusal(entry)) throw new Error(entry.problem.what);
  return entry;
}
async function look(path: string): Promise<Look & { strip: string; clip: ClipDescription }> {
  const strip = join(await scratchFolder(), 'strip.jpg');
  const clip = await clipAt(path);
  return { ...(await lookClosely(clip, [path], strip)), strip, clip };
}

describe('a closer look', () => {
  it('at log: lifted black, low white, faint colour; four of six channels silent; a strip, outlines and every packet', async () => {
    const { measured, outlines, packets, strip } = await look(join(saltLantern, 'day-1/A001/A001C003.mov'));
    expect(measured.picture).toMatchObject({
      pictures: 9,
      bars: null,
      scans: ['progressive'],
      belowLegal: 0,
      aboveLegal: 0,
    });
    expect(measured.picture?.low).toBeGreaterThan(130);
    expect(measured.picture?.high).toBeLessThan(640);
    expect(measured.sound.map((channel) => channel.peak > 0.01)).toEqual([false, true, false, false, true, false]);
    expect([outlines.length, packets.length, measured.errors]).toEqual([6, 72, []]);
    expect(measured.flow).toMatchObject({ groupTypical: 12, groupLongest: 12 });
    expect((await stat(strip)).size).toBeGreaterThan(2_000);
  });

  it('at a film scan finds its pillars to the column, as they were painted', async () => {
    const { measured } = await look(join(saltLantern, 'day-2/F001/F001_r1.mov'));
    expect(measured.picture?.bars).toMatchObject({
      left: 236,
      right: 244,
      top: 0,
      bottom: 0,
      crop: { x: 236, y: 0, width: 1440, height: 1080 },
    });
    expect(measured.flow?.groupLongest).toBe(1);
  });

  it("agrees with FFmpeg's own cropdetect to its steps of two", async () => {
    const path = join(saltLantern, 'day-2/F001/F001_r1.mov');
    const { stderr } = await call('ffmpeg', [
      '-hide_banner',
      '-i',
      path,
      '-vf',
      'cropdetect=limit=0.11:round=2',
      '-map',
      '0:v',
      '-f',
      'null',
      '-',
    ]);
    const crop = [...stderr.matchAll(/crop=(\d+):(\d+):(\d+):(\d+)/g)].at(-1)?.slice(1).map(Number);
    const { measured } = await look(path);
    const found = measured.picture?.bars?.crop;
    expect(Math.abs((found?.width ?? 0) - (crop?.[0] ?? 0))).toBeLessThanOrEqual(2);
    expect(Math.abs((found?.x ?? 0) - (crop?.[2] ?? 0))).toBeLessThanOrEqual(2);
  });

  it('at fields, at a transport stream without an index, at a file cut short', async () => {
    expect((await look(join(saltLantern, 'day-2/D004/ESSENCE/UNIT01/C0001.MXF'))).measured.picture?.scans).toEqual([
      'top-field-first',
    ]);
    expect((await look(join(saltLantern, 'day-2/T001/T001C001.ts'))).measured).toMatchObject({
      picture: { pictures: 9 },
      errors: [],
    });
    const cut = (await look(join(saltLantern, 'day-2/P000/P000_0008.mp4'))).measured;
    expect(cut.errors.length).toBeGreaterThan(0);
    expect(cut.picture?.pictures).toBeLessThan(9);
  });

  it('measures levels as stored: legal and full range, codes outside, grey sound of different rates', async () => {
    const folder = await scratchFolder();
    const path = join(folder, 'levels.mov');
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      "color=black:s=320x180:r=25:d=1,format=yuv422p10le,geq=lum='if(lt(X,160),20,1000)':cb=512:cr=512",
      '-f',
      'lavfi',
      '-i',
      'sine=440:r=48000:d=1',
      '-f',
      'lavfi',
      '-i',
      'anullsrc=r=44100:cl=mono:d=1',
      '-map',
      '0:v',
      '-map',
      '1:a',
      '-map',
      '2:a',
      '-t',
      '1',
      '-c:v',
      'ffv1',
      '-c:a',
      'pcm_s16le',
      '-color_range',
      'tv',
      '-f',
      'matroska',
      path,
    );
    const { measured } = await look(path);
    expect(measured.picture).toMatchObject({ low: 20, high: 1000, saturation: 0 });
    expect(measured.picture?.belowLegal).toBeCloseTo(0.5, 1);
    expect(measured.picture?.aboveLegal).toBeCloseTo(0.5, 1);
    // Sine of FFmpeg's `sine` source: an eighth of full scale.
    expect(measured.sound.map((channel) => Math.round(channel.peak * 1000) / 1000)).toEqual([0.125, 0]);
  });

  it('across chapters sees one clip: all packets, all sound', async () => {
    const paths = ['01', '02', '03'].map((part) => join(demoCards, 'card-V-1/VIDEO', `V0034_${part}.mp4`));
    const [clip, ...more] = joinChapters(await Promise.all(paths.map(clipAt)));
    expect([more.length, clip?.video?.frames]).toEqual([0, 80]);
    const found = await lookClosely(clip as ClipDescription, paths, join(await scratchFolder(), 'strip.jpg'));
    expect(found.packets).toHaveLength(80);
    expect(found.packets.at(-1)?.seconds).toBeGreaterThan(3);
    expect(found.measured.picture?.pictures).toBe(9);
    expect(found.measured.errors).toEqual([]);
  });

  it('takes its pictures from the file that holds the place', () => {
    const places = placesIn(['a', 'b'], [4, 2], 25, 3);
    expect(places).toEqual([
      { path: 'a', seconds: 1, frame: 25 },
      { path: 'a', seconds: 3, frame: 75 },
      { path: 'b', seconds: 1, frame: 25 },
    ]);
  });
});

/** Finds boxes (ISO/IEC 14496-12) of a type inside a range of bytes; offsets are of their first byte. */
function boxes(bytes: Buffer, type: string, from: number, to: number): { at: number; end: number }[] {
  const found: { at: number; end: number }[] = [];
  for (let at = from; at + 8 <= to;) {
    const size = bytes.readUInt32BE(at);
    if (size < 8) break;
    if (bytes.toString('latin1', at + 4, at + 8) === type) found.push({ at, end: at + size });
    at += size;
  }
  return found;
}

it('finds a timecode that jumps inside a MOV: a second sample of the timecode track that does not follow', async () => {
  const folder = await scratchFolder();
  const path = join(folder, 'break.mov');
  await ffmpegMakes(
    '-f',
    'lavfi',
    '-i',
    'testsrc2=s=128x72:r=25:d=4',
    '-timecode',
    '10:00:00:00',
    '-c:v',
    'mjpeg',
    path,
  );
  const file = await open(path, 'r+');
  const bytes = await file.readFile();
  // The timecode track gets a second sample, stating 12:00:00:00, from frame 40 on. Its chunk is written behind the
  // file.
  const moov = boxes(bytes, 'moov', 0, bytes.length)[0] as { at: number; end: number };
  const track = boxes(bytes, 'trak', moov.at + 8, moov.end).find((trak) =>
    bytes.subarray(trak.at, trak.end).includes('mhlrtmcd'),
  ) as { at: number; end: number };
  const inside = (type: string): number => bytes.indexOf(type, track.at, 'latin1') - 4;
  const box = (type: string, ...words: number[]): Buffer => {
    const made = Buffer.alloc(8 + words.length * 4);
    made.writeUInt32BE(made.length, 0);
    made.write(type, 4, 'latin1');
    words.forEach((word, index) => made.writeUInt32BE(word, 8 + index * 4));
    return made;
  };
  const duration = bytes.readUInt32BE(inside('stts') + 20);
  const firstChunk = bytes.readUInt32BE(inside('stco') + 16);
  const replaced: Record<string, Buffer> = {
    stts: box('stts', 0, 2, 1, Math.round(duration * 0.4), 1, duration - Math.round(duration * 0.4)),
    stsz: box('stsz', 0, 4, 2),
    stco: box('stco', 0, 2, firstChunk, bytes.length + 8 + 64 * 1024),
  };
  // Rebuilds the boxes on the way down to them, moov being the last box of the file.
  const rebuild = (at: number, end: number): Buffer => {
    const type = bytes.toString('latin1', at + 4, at + 8);
    const isInTrack = at >= track.at && end <= track.end;
    if (isInTrack && replaced[type]) return replaced[type];
    if (!['moov', 'trak', 'mdia', 'minf', 'stbl'].includes(type) || (type !== 'moov' && !isInTrack))
      return bytes.subarray(at, end);
    const parts: Buffer[] = [];
    for (let child = at + 8; child < end; child += bytes.readUInt32BE(child))
      parts.push(rebuild(child, child + bytes.readUInt32BE(child)));
    const body = Buffer.concat(parts);
    const head = Buffer.alloc(8);
    head.writeUInt32BE(body.length + 8, 0);
    head.write(type, 4, 'latin1');
    return Buffer.concat([head, body]);
  };
  expect(moov.end).toBe(bytes.length);
  const made = rebuild(moov.at, moov.end);
  const sample = Buffer.alloc(4);
  sample.writeUInt32BE(12 * 3600 * 25);
  const padding = box(
    'free',
    ...new Array<number>(((bytes.length + 64 * 1024 - moov.at - made.length - 8) / 4) | 0).fill(0),
  );
  const all = Buffer.concat([bytes.subarray(0, moov.at), made, padding]);
  const tail = Buffer.alloc(bytes.length + 8 + 64 * 1024 + 4 - all.length);
  tail.writeUInt32BE(tail.length, 0);
  tail.write('mdat', 4, 'latin1');
  sample.copy(tail, tail.length - 4);
  await file.write(Buffer.concat([all, tail]), 0, all.length + tail.length, 0);
  await file.close();
  const { measured, clip } = await look(path);
  expect(clip.timecode?.start).toBe('10:00:00:00');
  expect(measured.timecodeBreaks).toEqual([{ frame: 40, found: '12:00:00:00', expected: '10:00:01:15' }]);
});
