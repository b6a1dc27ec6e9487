/** The folder of the installation: where package.json, the migrations, the demo and the collector's source are. */
export const ROOT = process.env['NORMETRA_ROOT'] ?? process.cwd();
