/** How wide a docket is: it leaves the sheet its room where the window is small, or its page enlarged. */
export const docketWidth = 'w-[336px] max-lg:w-[296px]';
export const wideDocketWidth = 'w-[400px] max-lg:w-[300px]';
