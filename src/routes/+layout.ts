/** Pages are made in the browser alone: nothing can be pressed before it does something. */
export const ssr = false;
