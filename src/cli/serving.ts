/** The file in a data folder in which a running server says how it can be reached. */
export const SERVING = 'serving.json';
