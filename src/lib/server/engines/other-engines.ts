/** The station in another engine, as far as default styles are measured in it. */
import type { Requests } from '../../../protocol/protocol.ts';
import type { Mode, Profile } from '../../../core/css/defaults/profile.ts';
import type { Underlays } from '../frames/overlays.ts';
import { measureProfile } from './atlas.ts';
import { openFirefox } from './bidi.ts';
import { serveStation } from './serving.ts';
import { makeDeltaDecoder } from '../../../protocol/delta-decoder.ts';

/** Measures Firefox. `underlay`: style sheets that are laid under its empty documents. */
export async function measureFirefox(
  named: { name: string; title: string; made?: string },
  underlay: Underlays | null = null,
): Promise<Profile> {
  const [station, page] = await Promise.all([serveStation(), openFirefox()]);
  try {
    await page.goto(`http://127.0.0.1:${station.port}/`);
    await page.evaluate(`${station.script};''`);
    const ask = async (mode: Mode, asked: Requests['defaults']['ask']) => {
      const address = station.bare(mode, underlay);
      const frame = await page.evaluate(`station.open(${JSON.stringify(address)}, 800, 600).then(String)`);
      const packed = await page.evaluate(
        `station.askPacked(${frame}, 'defaults', ${JSON.stringify(JSON.stringify(asked))}, 0)`,
      );
      return makeDeltaDecoder().unpack(packed) as Requests['defaults']['reply'];
    };
    return await measureProfile(ask, { ...named, engine: { name: 'firefox', version: page.version } });
  } finally {
    await page.close();
    await station.close();
  }
}
