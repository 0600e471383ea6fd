import { bakeCube } from '@relay/core/colour/bake/bake';
import { shapersFor, type Shaper } from '@relay/core/colour/bake/shaper';
import { conversion, type Rendering } from '@relay/core/colour/convert';
import { writeCube } from '@relay/core/colour/lut/cubeWrite';
import { applyCube, applyCubePlainly } from '@relay/core/colour/lut/image';
import { compile } from '@relay/core/colour/ops/compile';
import { colourState } from '@relay/core/colour/states';
import { unwrap } from '@relay/core/result';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { median } from '../numbers.ts';

const rounds = 7;
const [width, height] = [1920, 1080];
const [plain] = shapersFor(false) as [Shaper, ...Shaper[]];

function timed(work: () => void): number {
  const all: number[] = [];
  for (let round = 0; round < rounds; round += 1) {
    const start = performance.now();
    work();
    all.push(performance.now() - start);
  }
  return median(all);
}

const chain = (from: string, to: string, rendering: Rendering | null) =>
  compile(unwrap(conversion(unwrap(colourState(from)), unwrap(colourState(to)), rendering)));

/** `relay bench colour`: a cube over an HD float picture, and baking, each beside OpenColorIO on the same work. */
export async function benchColour(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'relay-bench-'));
  try {
    const toVideo = chain('slog3-sgamut3cine', 'bt709', null);
    const cube = bakeCube(toVideo, 33, plain);
    const path = join(folder, 'bench.cube');
    writeFileSync(path, writeCube({ cube }));
    // Skies and water with a camera's noise: three slopes and a twentieth of chance, the same in reference.py.
    let state = 1;
    const picture = Float32Array.from({ length: width * height * 3 }, (_, i) => {
      state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
      const [x, y, c] = [((i / 3) | 0) % width, (i / 3 / width) | 0, i % 3];
      return 0.1 + 0.5 * (c === 0 ? x / width : c === 1 ? y / height : 1 - x / width) + 0.05 * (state / 2 ** 32);
    });
    const out = new Float32Array(picture.length);
    const plainly = timed(() => applyCubePlainly(cube, picture, out));
    const ours = timed(() => applyCube(cube, picture, out));
    const theirs = spawnSync(
      '/usr/bin/python3',
      [
        join(import.meta.dirname, '..', 'bench', 'colour', 'reference.py'),
        path,
        String(width),
        String(height),
        String(rounds),
      ],
      { encoding: 'utf8' },
    );
    const reference = theirs.status === 0 ? median(theirs.stdout.trim().split('\n').map(Number)) : Number.NaN;
    console.log(
      `Cube of 33 over ${width}×${height}, floats: ${ours.toFixed(0)} ms; OpenColorIO ${reference.toFixed(0)} ms; ratio ${(ours / reference).toFixed(2)} (aim 1); without vectors ${plainly.toFixed(0)} ms`,
    );

    const bake = timed(() => bakeCube(toVideo, 33, plain));
    const shown = chain('slog3-sgamut3cine', 'bt709', 'estuary');
    const rendered = timed(() => bakeCube(shown, 33, plain));
    const config = join(folder, 'config.ocio');
    writeFileSync(
      config,
      `ocio_profile_version: 2
roles: {default: raw}
file_rules: [!<Rule> {name: Default, colorspace: raw}]
displays: {d: [!<View> {name: v, colorspace: raw}]}
colorspaces:
  - !<ColorSpace> {name: raw, isdata: false}
  - !<ColorSpace> {name: log, to_scene_reference: !<BuiltinTransform> {style: SONY_SLOG3-SGAMUT3.CINE_to_ACES2065-1}}
  - !<ColorSpace> {name: video, from_scene_reference: !<GroupTransform> {children: [!<BuiltinTransform> {style: UTILITY - ACES-AP0_to_CIE-XYZ-D65_BFD}, !<BuiltinTransform> {style: DISPLAY - CIE-XYZ-D65_to_REC.1886-REC.709}]}}
`,
    );
    let said = '';
    const tool = timed(() => {
      const ended = spawnSync(
        'ociobakelut',
        [
          '--iconfig',
          config,
          '--inputspace',
          'log',
          '--outputspace',
          'video',
          '--format',
          'iridas_cube',
          '--cubesize',
          '33',
          join(folder, 'theirs.cube'),
        ],
        { encoding: 'utf8' },
      );
      if (ended.status !== 0)
        said = (ended.stderr || ended.stdout || String(ended.error)).trim().split('\n')[0] ?? 'failed';
    });
    const withFile = timed(() =>
      writeFileSync(join(folder, 'ours.cube'), writeCube({ cube: bakeCube(toVideo, 33, plain) })),
    );
    console.log(
      `Bake of 33 points, S-Log3 to BT.709: ${bake.toFixed(0)} ms (aim 60); written to a file too ${withFile.toFixed(0)} ms; ociobakelut, process and file, ${said === '' ? `${tool.toFixed(0)} ms` : `failed: ${said}`}`,
    );
    console.log(`The same with the rendering estuary: ${rendered.toFixed(0)} ms`);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
