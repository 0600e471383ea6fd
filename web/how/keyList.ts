/** Every key, by the place where it acts. Single signs can be changed to others. */
export const keyList: readonly [string, readonly (readonly [string, string])[]][] = [
  [
    'Everywhere',
    [
      ['Ctrl K', 'Go to a screen or production'],
      ['Ctrl Z', 'Undo the last change'],
      ['?', 'How, and these keys'],
      ['T', 'Dark or chalk'],
    ],
  ],
  [
    'Clips',
    [
      ['↑ ↓', 'Move'],
      ['Shift ↑ ↓', 'Extend the selection'],
      ['Space', 'Add or take away a clip'],
      ['Ctrl A', 'Select all'],
      ['G', 'Select the group of the clip'],
      ['Esc', 'Select nothing'],
      ['Enter', 'Watch the clip'],
      ['/', 'Filter'],
      ['← →', 'From cell to cell'],
      ['B', 'Onto the bench'],
      ['E', 'Edit identity'],
      ['P', 'Identity from names'],
      ['R', 'Prepare a run of the selection, or of all'],
      ['N', 'Prepare a run of what is new since the last'],
    ],
  ],
  [
    'Inlets',
    [
      ['↑ ↓', 'Move between inlets'],
      ['I', 'Make an inlet'],
      ['E', 'Change it'],
      ['Space', 'Pause it, or let it go on'],
    ],
  ],
  [
    'Clip',
    [
      ['Space', 'Play or pause'],
      ['J K L', 'Five seconds back, stop, play'],
      ['← →', 'One frame back or on'],
      ['Shift ← →', 'Ten frames'],
      ['1 … 9', 'Listen to one channel'],
      ['0', 'Listen to all'],
      ['Esc', 'Back to the clips'],
    ],
  ],
  [
    'Run',
    [
      ['↑ ↓', 'Move between legs'],
      ['F', 'Put the leg first'],
      ['- +', 'Move it up or down'],
      ['H', 'Hold or release it'],
      ['S', 'Stop it'],
      ['A', 'Retry it'],
      ['L', 'Its log'],
      ['G', 'Speed along the clock'],
      ['C', 'Compare with the original'],
    ],
  ],
  [
    'Bench',
    [
      ['← →', 'One frame back or on'],
      ['Shift ← →', 'Ten frames'],
      ['G', 'Go to a timecode'],
      ['S W D', 'Side by side, wipe, difference'],
      ['B', 'Before or after'],
      ['1 … 5', 'Zoom to fit, 100 to 800 %'],
      ['M', 'Next measurement'],
      ['C', 'Contact sheet'],
      ['[ ]', 'Clip before or next'],
      ['U', 'Undo what was used last'],
      ['Esc', 'Back to the groups'],
    ],
  ],
  [
    'Cabinet',
    [
      ['↑ ↓', 'Move between LUTs'],
      ['N', 'Bring files in'],
    ],
  ],
  [
    'Arrivals',
    [
      ['↑ ↓', 'Move between rolls'],
      ['B', 'Bring a card in'],
      ['V', 'Verify the roll again'],
    ],
  ],
  [
    'Compare',
    [
      ['← →', 'One frame back or on'],
      ['Shift ← →', 'Ten frames'],
      ['Home End', 'First or last frame'],
      ['1 2 3 4', 'Zoom to fit, 100, 200, 400 %'],
    ],
  ],
];
