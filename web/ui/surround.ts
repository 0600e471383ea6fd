/** What canvases draw around pictures with, which know no style sheets: the tokens of `styles.css`. */
export const surround = { ground: '#2b2b2b', ink: '#d8d8d8' } as const;
