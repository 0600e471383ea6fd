import type { PathPattern } from '@relay/core/naming/pathPattern';
import type { Recipe } from '@relay/core/recipe/recipe';
import { EntitySchema } from 'typeorm';
import { id, json, now, text } from './columns.ts';

export interface RecipeRow {
  id: string;
  definition: Recipe;
  group: string;
  note: string;
  owner: string;
  version: number;
  changedAt: Date;
  createdAt: Date;
}

export const recipe = new EntitySchema<RecipeRow>({
  name: 'recipe',
  tableName: 'recipe',
  columns: {
    id,
    definition: json(),
    group: { ...text(), name: 'grp', default: 'Ours' },
    note: { ...text(), default: '' },
    owner: { ...text(), default: 'assistant' },
    version: { type: 'int', default: 1 },
    changedAt: { ...now, name: 'changed_at' },
    createdAt: { ...now, name: 'created_at' },
  },
});

/** What a recipe was before it was changed. */
export interface RecipeVersionRow {
  recipeId: string;
  version: number;
  definition: Recipe;
  who: string;
  at: Date;
}

export const recipeVersion = new EntitySchema<RecipeVersionRow>({
  name: 'recipeVersion',
  tableName: 'recipe_version',
  columns: {
    recipeId: { type: 'uuid', primary: true, name: 'recipe_id' },
    version: { type: 'int', primary: true },
    definition: json(),
    who: text(),
    at: { type: 'timestamptz' },
  },
});

/** A picture that burn-ins lay over, by the hash of its bytes. */
export interface OverlayImageRow {
  hash: string;
  name: string;
  bytes: Buffer;
  width: number;
  height: number;
  createdAt: Date;
}

export const overlayImage = new EntitySchema<OverlayImageRow>({
  name: 'overlayImage',
  tableName: 'overlay_image',
  columns: {
    hash: { type: 'text', primary: true },
    name: text(),
    bytes: { type: 'bytea' },
    width: { type: 'int' },
    height: { type: 'int' },
    createdAt: { ...now, name: 'created_at' },
  },
});

/** A path pattern that is kept by name. */
export interface PathPatternRow {
  id: string;
  name: string;
  pattern: PathPattern;
  createdAt: Date;
}

export const pathPattern = new EntitySchema<PathPatternRow>({
  name: 'pathPattern',
  tableName: 'path_pattern',
  columns: {
    id,
    name: { ...text(), unique: true },
    pattern: json(),
    createdAt: { ...now, name: 'created_at' },
  },
});
