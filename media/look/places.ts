/** A picture to be taken: the file that holds it, the second in it, and its number in that file. */
export interface Place {
  path: string;
  seconds: number;
  frame: number;
}

/**
 * A file of fewer pictures is decoded from its beginning: that costs less than finding nine places in it, and needs no
 * index to be right.
 */
export const fewPictures = 300;

/** Places spread evenly over a clip's files, off its very ends. */
export function placesIn(
  paths: readonly string[],
  lengths: readonly number[],
  framesPerSecond: number,
  count = stripPictures,
): Place[] {
  const whole = lengths.reduce((a, b) => a + b, 0);
  return Array.from({ length: count }, (_, index) => {
    let seconds = (whole * (index + 0.5)) / count;
    let file = 0;
    while (file < paths.length - 1 && seconds >= (lengths[file] ?? 0)) {
      seconds -= lengths[file] ?? 0;
      file += 1;
    }
    return { path: paths[file] as string, seconds, frame: Math.floor(seconds * framesPerSecond) };
  });
}

/** Pictures taken across a clip: enough for a scene that is dark in the middle, few enough for a thousand clips. */
export const stripPictures = 9;
