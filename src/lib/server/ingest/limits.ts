export const MAX_FILES = 5000;
export const MAX_BYTES = 200 * 1024 * 1024;
export const megabytes = (bytes: number): string => `${Math.round((bytes / 1024 / 1024) * 10) / 10} MB`;
