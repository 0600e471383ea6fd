import { zodResolver } from '@hookform/resolvers/zod';
import { useEffect, useState } from 'react';
import { useForm, type DefaultValues, type FieldValues, type UseFormReturn } from 'react-hook-form';
import type { z } from 'zod';
import { keepDraft, keptDraft } from './useKept.ts';

/**
 * A form over something that is saved elsewhere, checked by the same schema that the server checks it by. What is typed
 * is kept in the browser until it is saved or taken back, like any draft; the key should hold the version of what is
 * saved.
 */
export function useKeptForm<T extends FieldValues>(
  key: string,
  saved: T,
  schema: z.ZodType<T>,
): UseFormReturn<T, unknown, T> {
  const [kept] = useState(() => keptDraft(key) as T | null);
  const form = useForm<T, unknown, T>({
    defaultValues: saved as DefaultValues<T>,
    resolver: zodResolver<T, unknown, T>(schema as z.ZodType<T, T>),
    mode: 'onChange',
    ...(kept ? { values: kept, resetOptions: { keepDefaultValues: true } } : {}),
  });
  const { subscribe, trigger } = form;
  useEffect(() => {
    const same = JSON.stringify(saved);
    return subscribe({
      formState: { values: true },
      callback: ({ values }) => keepDraft(key, JSON.stringify(values) === same ? null : values),
    });
  }, [key, saved, subscribe]);
  // What was kept may have been wrong when the page was left.
  useEffect(() => {
    if (kept) void trigger();
  }, [kept, trigger]);
  return form;
}

/** One thing that is wrong in a form: where, by the names of fields, and what. */
export interface FieldProblem {
  path: string[];
  message: string;
}

/** Everything that a form's errors say, field by field, in their order. */
export function problemsIn(errors: object | undefined, path: readonly string[] = []): FieldProblem[] {
  if (!errors) return [];
  return Object.entries(errors).flatMap(([name, error]) => {
    if (typeof error !== 'object') return [];
    const at = name === 'root' ? path : [...path, name];
    const { message } = error as { message?: unknown };
    if (typeof message === 'string') return [{ path: [...at], message }];
    return problemsIn(error as object, at);
  });
}
