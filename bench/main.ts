import { benchArrive } from './arrive/bench.ts';
import { benchCompare } from './compare/bench.ts';
import { benchColour } from './colour/bench.ts';
import { benchFirstLeg } from './first-leg/bench.ts';
import { benchForecast } from './forecast/bench.ts';
import { benchHandoff } from './handoff/bench.ts';
import { benchInlet } from './inlet/bench.ts';
import { benchLegs } from './legs/bench.ts';
import { benchLook } from './look/bench.ts';
import { benchPatience } from './patience/bench.ts';
import { benchRead } from './read/bench.ts';
import { benchRehearse } from './rehearse/bench.ts';
import { benchRight } from './right/bench.ts';
import { benchRun } from './run/bench.ts';
import { benchSegments } from './segments/bench.ts';
import { benchShort } from './short/bench.ts';
import { benchSheet } from './sheet/bench.ts';

/** `./relay bench NAME`: measurements, each against the plain way of doing the same in the same run. */
const benches: Readonly<Record<string, (args: readonly string[]) => Promise<void>>> = {
  'first-leg': benchFirstLeg,
  colour: benchColour,
  compare: benchCompare,
  arrive: benchArrive,
  forecast: benchForecast,
  handoff: benchHandoff,
  inlet: benchInlet,
  legs: benchLegs,
  look: benchLook,
  patience: benchPatience,
  read: benchRead,
  rehearse: benchRehearse,
  right: benchRight,
  run: benchRun,
  segments: benchSegments,
  sheet: benchSheet,
  short: benchShort,
};

const [name, ...args] = process.argv.slice(2);
const bench = name === undefined ? undefined : benches[name];
if (bench) await bench(args);
else {
  process.stderr.write(`relay: ./relay bench takes one of: ${Object.keys(benches).join(', ')}\n`);
  process.exitCode = 2;
}
