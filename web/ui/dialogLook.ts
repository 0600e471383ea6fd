/** How dialogs look: a veil over the page, and a sheet in its middle. */
export const dialogVeil = 'fixed inset-0 z-40 bg-black/50';
export const dialogSheet =
  'fixed top-1/2 left-1/2 z-50 max-h-[86vh] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 overflow-auto rounded-xl border border-line bg-sheet p-6';
