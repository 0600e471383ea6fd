/** What `--help` says, command by command. */
const texts: Readonly<Record<string, string>> = {
  start: `./relay start [--port N] [--store NAME=PATH]… [--root PATH]… [--no-demo]
  Installs what is missing, builds, starts the database, the server and a worker, and prints the address.
  --port N            the address's port (default 4700; the next free one if it is taken)
  --store NAME=PATH   adds a folder that Brisk Relay may use; kept for later starts
  --root PATH         the page may add folders below it (default: your home; drives and cards that are mounted always)
  --no-demo           without the painted demo: no production, no stores but your own
  Ctrl-C stops all of it.
`,
  test: `./relay test
  Installs what tests need and runs lint, type check, and the unit, server and browser tests.
`,
  worker: `./relay worker [--name NAME] [--slots N] [--takes CODEC,…] [--store NAME=PATH]…
  One more worker of legs, for the database of a running ./relay start here, or for the one that RELAY_DATABASE names.
  --name NAME         what people call it (default: this machine's name)
  --slots N           legs at a time (default 2)
  --takes CODEC,…     only legs of these: prores, vc3, vc3hd, vc5, h264, hevc, av1, mjpeg, ffv1, v210, pictures, none
  --store NAME=PATH   where a store lies on this machine; with any, only legs on these stores are taken
  Idle, it helps with long legs of other machines. RELAY_HOST names its machine where several call themselves alike.
`,
  read: `./relay read PATH… [--quick] [--json]
  Describes files, and every file below folders, and says what is to know or to decide about each clip.
  --quick does not look closely (sampled pictures, all sound, every packet), and finds less.
  --json prints an array of descriptions with findings; what cannot be a clip is in it with a problem
  instead (kind, what, remedy).
`,
  arrive: `./relay arrive --from DIR --to DIR [--to DIR]… --roll NAME [--hash NAME] [--md5] [--copies N] [--one-disk] [--json]
  Copies a card into a folder NAME below each --to: read once, hashed, flushed, read back from each disk and
  compared; every copy gets an ASC MHL manifest. Run again after a break it goes on where it was.
  --hash      xxh128 (default), xxh64, xxh3, md5 or sha1; --md5 states MD5 as well
  --copies N  how many proved copies let the card be cleared (default 2), each on a disk of its own
  --one-disk  copies on one disk count as well
  Exit code: 0 every file proved in every copy, 1 not, 2 wrong use.
`,
  verify: `./relay verify DIR [--no-record] [--json]
  Holds a folder against the manifests in it, names what is missing, changed or extra, and adds a generation
  that says so. Exit code: 0 all as stated, 1 something differs, 2 wrong use.
`,
  run: `./relay run --source DIR --out DIR [--recipe FILE] [--corrections FILE] [--json]
  Makes every deliverable of a recipe from every clip below DIR, proves each, and writes relink.csv and
  relink.json beside them. Without --recipe: ProRes 422 HQ intermediates and H.264 proxies.
  Exit code: 0 all proved, 1 some need eyes or failed, 2 wrong use.
`,
  forecast: `./relay forecast --source DIR [--recipe FILE] [--corrections FILE] [--json]
  What a run would take, and nothing is made: for each output, each deliverable and all, bytes as a range that is meant to
  hold nine times in ten, and how it is known (exact, by frame sizes, by sampled pictures, by published rates, roughly); and the time.
`,
  paths: `./relay paths --source DIR [--recipe FILE] [--corrections FILE] [--pattern P] [--json]
  Every path that a run would make, without making anything, and what keeps any from being made: two on one path (also
  where case or accents are ignored), names that some system refuses or that are too long; with the smallest remedy.
  --pattern P   folders and name from pieces, below each deliverable's folder: '[source]/[stem]' (default),
                '[day]/[roll]/[stem]_[raster]'. Pieces: stem, reel, roll, day, camera, scene, take, production, deliverable,
                raster, rate, codec, source, source 1…9, date, ending, counter, counter 1…9; cut as in [stem 1-4],
                [stem part 2], [stem number 1].
  Exit code: 0 all can be made, 1 not all, 2 wrong use.
`,
  colour: `./relay colour eval --from STATE --to STATE [--rendering estuary] [--rgb R,G,B]
./relay colour eval --lut FILE [--interp tetrahedral|trilinear] [--inverse] [--rgb R,G,B]
./relay colour eval --cdl FILE [--inverse] [--rgb R,G,B]
  Puts triplets of numbers through colour states, LUTs (.cube, .clf) and CDLs (.cc, .ccc, .cdl), or all of them in
  the order state, CDL, LUT, state. Without --rgb it reads one triplet a line and prints one a line, 7 decimals.
  --interp      default: tetrahedral for .cube, what the file says for .clf
  --lut-takes, --lut-gives STATE   what a LUT takes and gives; without, as it comes, and nothing is converted beside it
  --range-in, --range-out full|legal   range on each side of a LUT (default full)
  --cdl-in STATE   the state that a CDL works in (default: the one before it)
./relay colour bake --from STATE [--cdl F] [--lut F] --to STATE [--size N] --out FILE [--json]
  Bakes the chain to one .cube or .clf and says how far that lies from the chain. Without --size the smallest
  that stays under one 10-bit code value in 99.9 % of colours is taken. A .cube holds a cube alone, but for linear
  light, which needs a table before it; --shaper puts one wherever it halves the error, as a .clf always does.
./relay colour examine FILE [--json]
  What a LUT does and what is to know before it is used: range, clipping, breaks, casts, folds, likely log.
./relay colour states [--json]
  The curves and gamuts that states are named by, each with its source.
`,
  shape: `./relay shape --raster WxH [--par N:D] [--squeeze X] [--crop L,T,R,B] [--turn DEG] [--to WxH --fit KIND] [--codec NAME] [--json]
  The way of a picture: source window, true shape, where it lies in the output's raster, and the error of shape that
  whole samples leave.
  --squeeze X    a lens's squeeze; 1.33 is four thirds       --square columns|rows|keep   how pixels become square
  --fit KIND     fit (inside, nothing added), pad (filled up), fill (the rest cut), cut (not scaled)
  --anchor A     top-left … centre … bottom-right            --colour black|grey|white    --enlarge
  --codec NAME   prores-proxy … prores-4444xq, h264, or a sampling: 4:2:0, 4:2:2, 4:4:4 (default: any whole size)
  --fields       keeps fields apart: rows go in pairs
`,
  version: `./relay --version
  Prints the version.
`,
  completion: `./relay completion bash|zsh
  Prints what lets a shell complete commands and files: source <(./relay completion bash)
`,
  timecode: `./relay timecode TC --rate R --frames
./relay timecode --from-frames N --rate R [--drop]
  Frames since midnight of a timecode (; before the frames is drop-frame), and back. --json prints an object.
`,
};

/** Help for one command, or for all; null for a command that there is not. */
export function helpFor(command?: string): string | null {
  if (command !== undefined) return texts[command] ?? null;
  return `Brisk Relay turns camera originals into intermediates and proxies that relink, each one proved.\n\n${Object.values(texts).join('\n')}`;
}
