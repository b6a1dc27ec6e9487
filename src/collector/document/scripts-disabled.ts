/** Whether no script but the collector's runs: the server says so on it. */
export const areScriptsDisabled = document.currentScript?.hasAttribute('data-still') ?? false;
