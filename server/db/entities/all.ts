import { production } from './productions.ts';
import { roll, rollCopy, custodyEvent, reading } from './arrivals.ts';
import { clip, decision, identityChange, savedFilter } from './clips.ts';
import { correctionRule, correctionChange } from './corrections.ts';
import { lut } from './cabinet.ts';
import { recipe, recipeVersion, overlayImage, pathPattern } from './recipes.ts';
import { run, leg, output, segment, joinedCopy } from './runs.ts';
import { worker, setting } from './site.ts';
import { inlet, inletThing, inletFile } from './inlets.ts';
import { outputLook } from './looks.ts';
import { cut, cutAnswer, cutVersion } from './cuts.ts';
import { handoff, handoffEvent, handoffItem, receiver } from './handoffs.ts';
import { originalSearch } from './originalSearches.ts';
import { removal, removalItem } from './removals.ts';
import { measuring } from './measurings.ts';

/** Every table; a test holds them against the migrated schema. */
export const entities = [
  production,
  roll,
  rollCopy,
  custodyEvent,
  reading,
  clip,
  decision,
  identityChange,
  savedFilter,
  correctionRule,
  correctionChange,
  lut,
  recipe,
  recipeVersion,
  overlayImage,
  pathPattern,
  run,
  leg,
  output,
  outputLook,
  measuring,
  cut,
  cutVersion,
  cutAnswer,
  receiver,
  handoff,
  handoffItem,
  handoffEvent,
  originalSearch,
  removal,
  removalItem,
  segment,
  joinedCopy,
  inlet,
  inletThing,
  inletFile,
  worker,
  setting,
];
