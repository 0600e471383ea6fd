/** What findings that need a decision are called where no clip is spoken of; their texts say more of one. */
export const decideTitles: Readonly<Record<string, string>> = {
  cutShort: 'Cut short',
  decodeErrors: 'Decodes with errors',
  varyingRate: 'Rate varies',
  noTimecode: 'No timecode',
  timecodeBreaks: 'Timecode breaks',
  logAsVideo: 'Looks like log, not said to be',
  unsaidLut: 'What its LUT gives is not said',
  scanContradicts: 'Scan is not what it says',
  pulldown: '2:3 pulldown',
  mixedScan: 'Scan flags mixed',
  pixelAspectContradicts: 'Pixels cannot be so',
  colourContradicts: 'Colour tags contradict',
  rangeNeverFull: 'Full range never used',
  sharedTimecode: 'Timecode shared on its reel',
  sameName: 'Name not its own',
};
