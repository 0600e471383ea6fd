/** How a row of a list looks: chosen, where the keyboard is, or under the pointer. */
export function rowLook({ chosen, at = false }: { chosen: boolean; at?: boolean }): string {
  return `${chosen ? 'bg-raised' : 'hover:bg-raised/50'} ${at ? 'shadow-[inset_3px_0_0_var(--sky)]' : ''}`;
}
