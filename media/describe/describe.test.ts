import { copyFile, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { readEntry } from '@relay/contract/description';
import { isRefusal, type ClipDescription, type ReadEntry } from '@relay/core/clip/description';
import { ffmpegMakes, scratchFolder } from '../../testing/commands.ts';
import { saltLantern } from '../../testing/demo.ts';
import { describeFile } from './describe.ts';
import { deviceOf } from './device.ts';

async function demo(path: string): Promise<ClipDescription> {
  const entry = await describeFile(join(saltLantern, path), path);
  expect(readEntry.safeParse(entry).success).toBe(true);
  if (isRefusal(entry)) throw new Error(entry.problem.what);
  return entry;
}

const refusalOf = (entry: ReadEntry): string => (isRefusal(entry) ? entry.problem.kind : 'described');

describe('the demo originals', () => {
  it('A camera: 10-bit 4:2:2 at 23.976, six mono tracks, timecode and reel', async () => {
    const clip = await demo('day-1/A001/A001C003.mov');
    expect(clip).toMatchObject({
      wrapper: 'MOV',
      stem: 'A001C003',
      timecode: { start: '10:02:11:08', dropFrame: false },
      reel: 'A001',
      device: 'Tarnmoor T6',
      cutShort: null,
    });
    expect(clip.video).toMatchObject({
      codec: 'H.264',
      raster: { width: 1920, height: 1080 },
      rate: { num: 24000, den: 1001 },
      rateConstant: true,
      frames: 72,
      bitDepth: 10,
      chroma: '4:2:2',
      scan: 'progressive',
      pixelAspect: { num: 1, den: 1 },
      colour: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'legal' },
    });
    expect(clip.audio.map((track) => [track.channels, track.sampleRate, track.bitDepth])).toEqual(
      Array.from({ length: 6 }, () => [1, 48_000, 24]),
    );
  });

  it('the squeezed ones: one tagged square, one tagged 4:3', async () => {
    expect((await demo('day-1/C001/C001C011.mov')).video).toMatchObject({
      raster: { width: 1440, height: 1080 },
      pixelAspect: { num: 1, den: 1 },
    });
    expect((await demo('day-1/C001/C001C012.mov')).video).toMatchObject({
      raster: { width: 1440, height: 1080 },
      pixelAspect: { num: 4, den: 3 },
    });
  });

  it('UHD, slow motion with drop-frame timecode, interlaced MXF, a transport stream, a film scan', async () => {
    expect((await demo('day-1/B001/B001C001.mp4')).video).toMatchObject({
      codec: 'HEVC',
      raster: { width: 3840, height: 2160 },
      bitDepth: 10,
      chroma: '4:2:0',
    });
    expect(await demo('day-1/S009/S009C001.mov')).toMatchObject({
      timecode: { start: '16:45:10;12', dropFrame: true },
      video: { rate: { num: 60000, den: 1001 }, frames: 120 },
    });
    const card = await demo('day-2/D004/ESSENCE/UNIT01/C0001.MXF');
    expect(card).toMatchObject({
      wrapperId: 'mxf-op1a',
      timecode: { start: '20:10:00:00' },
      video: { codec: 'MPEG-2', scan: 'top-field-first', frames: 38, rate: { num: 25, den: 1 } },
    });
    expect(card.audio).toHaveLength(4);
    expect(await demo('day-2/T001/T001C001.ts')).toMatchObject({
      wrapperId: 'mpegts',
      timecode: null,
      video: { scan: 'top-field-first', frames: 38, rateConstant: true },
    });
    expect((await demo('day-2/F001/F001_r1.mov')).video).toMatchObject({
      codec: 'ProRes',
      rate: { num: 25, den: 1 },
      frames: 40,
    });
  });

  it('the phone: a rate that varies, and a file cut short', async () => {
    const phone = await demo('day-2/P000/P000_0007.mp4');
    expect(phone.video).toMatchObject({ rateConstant: false, frames: 75 });
    expect(phone.audio[0]?.sampleRate).toBe(44_100);
    expect((await demo('day-2/P000/P000_0008.mp4')).cutShort).toContain('missing at the end');
  });
});

describe('what is no clip', () => {
  it('is named with its kind, a reason and a remedy', async () => {
    const folder = await scratchFolder();
    const write = async (name: string, bytes: string | Buffer): Promise<ReadEntry> => {
      await writeFile(join(folder, name), bytes);
      return describeFile(join(folder, name), name);
    };
    expect(refusalOf(await write('empty.mov', ''))).toBe('broken');
    expect(
      refusalOf(await write('noise.mov', Buffer.from(Array.from({ length: 50_000 }, (_, i) => (i * 7919) % 251)))),
    ).toBe('not-media');
    expect(refusalOf(await write('M0001.XML', '<clip/>'))).toBe('sidecar');
    expect(refusalOf(await write('A001.r3d', Buffer.alloc(4096, 7)))).toBe('not-decodable');
    // What is no clip by its ending is told so, and nobody is sent to copy it again.
    const noise = Buffer.from(Array.from({ length: 50_000 }, (_, i) => (i * 7919) % 251));
    expect(refusalOf(await write('A001.RAW', noise))).toBe('not-decodable');
    const foreign = await write('set-plan.sketch', noise);
    expect(refusalOf(foreign)).toBe('not-media');
    expect(JSON.stringify(foreign)).not.toContain('again');
    // A picture under that ending is a clip all the same.
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=720x576:r=25:d=0.2',
      '-pix_fmt',
      'yuv420p',
      '-f',
      'dv',
      join(folder, 'tape.raw'),
    );
    expect(await describeFile(join(folder, 'tape.raw'), 'tape.raw')).toMatchObject({ video: { codecId: 'dvvideo' } });
    expect(refusalOf(await describeFile(join(folder, 'gone.mov'), 'gone.mov'))).toBe('unreadable');
    expect(refusalOf(await describeFile(join(saltLantern, 'day-2/P000/shot-list.mov'), 'shot-list.mov'))).toBe(
      'not-media',
    );
    // Index at the end, then cut: nothing of it can be played.
    await ffmpegMakes('-f', 'lavfi', '-i', 'testsrc2=s=320x180:d=1', '-c:v', 'mpeg4', join(folder, 'whole.mp4'));
    const whole = await readFile(join(folder, 'whole.mp4'));
    expect(refusalOf(await write('torn.mp4', whole.subarray(0, whole.length / 2)))).toBe('broken');
  });

  it('names the camera where the file does, whatever its wrapper calls it', async () => {
    expect((await demo('day-2/D004/ESSENCE/UNIT01/C0001.MXF')).device).toBe('Fennock F20');
    expect((await demo('day-2/P000/P000_0007.mp4')).device).toBe('Skerrick Nine');
    expect((await demo('day-2/F001/F001_r1.mov')).device).toBeUndefined();
    // A hostile name is one line of limited length; a maker that its model names again stands once.
    const said = (tags: Record<string, string>) => deviceOf({ streams: [], format: { tags } });
    expect(said({ make: 'Sk\u0000er|rick\n', model: 'x'.repeat(500) }).device).toHaveLength(80);
    expect(said({ make: ' Skerrick ', model: 'Skerrick Nine' })).toEqual({ device: 'Skerrick Nine' });
    expect(said({ make: '', model: '  ' })).toEqual({});
  });

  it("opens nothing but itself: playlists and scripts under a clip's name stay closed", async () => {
    const folder = await scratchFolder();
    await copyFile(join(saltLantern, 'day-1/S009/S009C001.mov'), join(folder, 'secret.mov'));
    const hostile: Record<string, string> = {
      'concat.mov': `ffconcat version 1.0\nfile '${folder}/secret.mov'\n`,
      'hls.mov': `#EXTM3U\n#EXT-X-TARGETDURATION:10\n#EXTINF:10,\nfile://${folder}/secret.mov\n#EXT-X-ENDLIST\n`,
      'hls.mp4': `#EXTM3U\n#EXTINF:1,\nhttp://127.0.0.1:9/x.ts\n`,
      'dash.mxf': `<?xml version="1.0"?><MPD xmlns="urn:mpeg:dash:schema:mpd:2011"><BaseURL>${folder}/secret.mov</BaseURL></MPD>`,
      'list.avi': `file:${folder}/secret.mov\n`,
      'clip%02d.mov': 'text',
    };
    for (const [name, text] of Object.entries(hostile)) {
      await writeFile(join(folder, name), text);
      expect([name, refusalOf(await describeFile(join(folder, name), name))]).toEqual([name, 'not-media']);
    }
  });

  it("a picture larger than any camera's is refused in words, whatever its few megabytes say", async () => {
    const folder = await scratchFolder();
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'color=red:s=16000x16000:d=0.04:r=25',
      '-frames:v',
      '1',
      '-c:v',
      'mjpeg',
      '-q:v',
      '31',
      '-pix_fmt',
      'yuvj420p',
      join(folder, 'vast.mov'),
    );
    const vast = await describeFile(join(folder, 'vast.mov'), 'vast.mov');
    expect(refusalOf(vast)).toBe('not-decodable');
    expect(isRefusal(vast) && vast.problem.what).toContain('larger pictures than are read here');
    // The largest that a camera makes is read, though not with the others' little memory.
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'color=red:s=12288x6480:d=0.04:r=25',
      '-frames:v',
      '1',
      '-c:v',
      'mjpeg',
      '-q:v',
      '31',
      '-pix_fmt',
      'yuvj420p',
      join(folder, 'large.mov'),
    );
    expect(await describeFile(join(folder, 'large.mov'), 'large.mov')).toMatchObject({
      video: { raster: { width: 12_288, height: 6_480 }, frames: 1 },
    });
  });

  it.each([
    ['24000/1001', 24_000, 1001],
    ['30000/1001', 30_000, 1001],
    ['24', 24, 1],
    ['60000/1001', 60_000, 1001],
  ] as const)('few pictures at %s are read at that rate, one alone too, in every wrapper', async (rate, num, den) => {
    const folder = await scratchFolder();
    for (const [name, frames, coding] of [
      ['a.mkv', 20, 'ffv1'],
      ['b.mkv', 24, 'ffv1'],
      ['c.mkv', 2, 'ffv1'],
      ['d.mkv', 1, 'ffv1'],
      ['e.mxf', 1, 'mpeg2video'],
      ['f.ts', 1, 'libx264'],
      ['g.mov', 1, 'libx264'],
      ['h.mp4', 2, 'libx264'],
    ] as const) {
      await ffmpegMakes(
        '-f',
        'lavfi',
        '-i',
        `testsrc2=s=320x180:r=${rate}`,
        '-frames:v',
        String(frames),
        '-c:v',
        coding,
        join(folder, name),
      );
      expect(await describeFile(join(folder, name), name), name).toMatchObject({
        video: { rate: { num, den }, rateConstant: true, frames },
      });
    }
  });
});
