import { zodResolver } from '@hookform/resolvers/zod';
import { useEffect, useMemo, useState } from 'react';
import { useForm, useWatch, type DefaultValues, type FieldValues, type UseFormReturn } from 'react-hook-form';
import type { z } from 'zod';
import { keepDraft, keptDraft } from './useKept.ts';

/** One thing that is wrong in a form: where, by the names of fields, and what. */
export interface FieldProblem {
  path: readonly string[];
  message: string;
}

export interface KeptForm<T extends FieldValues> {
  form: UseFormReturn<T, unknown, T>;
  /** What stands in it now. */
  says: T;
  /** Everything that is wrong with that; of fields that are objects, too, for which the form itself keeps no errors. */
  problems: readonly FieldProblem[];
}

/**
 * A form over something that is saved elsewhere, checked by the same schema that the server checks it by. What is typed
 * is kept in the browser until it is saved or taken back, like any draft; the key should hold the version of what is
 * saved.
 */
export function useKeptForm<T extends FieldValues>(key: string, saved: T, schema: z.ZodType<T>): KeptForm<T> {
  const [kept] = useState(() => keptDraft(key) as T | null);
  const form = useForm<T, unknown, T>({
    defaultValues: saved as DefaultValues<T>,
    resolver: zodResolver<T, unknown, T>(schema as z.ZodType<T, T>),
    ...(kept ? { values: kept, resetOptions: { keepDefaultValues: true } } : {}),
  });
  const says = useWatch({ control: form.control }) as T;
  useEffect(() => {
    keepDraft(key, JSON.stringify(says) === JSON.stringify(saved) ? null : says);
  }, [key, saved, says]);
  const problems = useMemo(
    () =>
      (schema.safeParse(says).error?.issues ?? []).map(({ path, message }) => ({ path: path.map(String), message })),
    [schema, says],
  );
  return { form, says, problems };
}
