/** What a view of a specimen is opened with: its data, under the default styles that its address asks for. */
import { AS_RENDERED, keyUnder } from './defaults.ts';

interface Data {
  host: string;
  specimen: { id: string };
  revision: { key: string };
}

/** The same data with the key under which the revision is served so. */
export async function under<T extends Data>(
  data: T,
  url: URL,
): Promise<T & { defaults: string; plainKey: string }> {
  const defaults = url.searchParams.get('defaults') ?? AS_RENDERED;
  const { host, specimen, revision } = data;
  const key = await keyUnder(specimen.id, host, revision.key, defaults);
  return { ...data, defaults, plainKey: revision.key, revision: { ...revision, key } };
}
