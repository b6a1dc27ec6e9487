/** Findings as SARIF 2.1.0, for tools that show results beside the code. */
import type { FindingDocument, FindingsDocument } from './findings.ts';

const RULES: Record<string, string> = {
  overflow: 'Content sticks out of the page or of its container',
  'stray-scroll': 'The page scrolls further than anything that can be seen',
  overlap: 'Boxes lie over each other',
  clip: 'Text or controls are cut off',
  gap: 'Space that nobody asked for',
  size: 'A box is not as large as declared',
  'percent-height': 'A height in percent of a height that is not known',
  inert: 'A declaration does nothing',
  dropped: 'A declaration is dropped by the parser',
  viewport: 'The viewport meta element is missing or wrong',
  defaults: 'The layout depends on default styles that differ',
};

/** A file's name as the reference that a URI needs (RFC 3986, 4.2); an address as it is. */
const uriOf = (name: string): string =>
  /^[a-z][a-z0-9+.-]*:\/\//i.test(name)
    ? encodeURI(name).replace(/%25([0-9a-f]{2})/gi, '%$1')
    : name.split('/').map(encodeURIComponent).join('/');

const location = (page: string, { culprits }: FindingDocument) => {
  const source = culprits[0]?.source;
  return {
    physicalLocation: {
      artifactLocation: { uri: uriOf(source?.sheet || page) },
      ...(source && source.line > 0 ? { region: { startLine: source.line, startColumn: source.column } } : {}),
    },
  };
};

export function sarifDocument({ page, findings }: FindingsDocument, version: string): unknown {
  const kinds = [...new Set(findings.map(({ kind }) => kind))];
  return {
    $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: {
          driver: {
            name: 'Normetra',
            version,
            rules: kinds.map((id) => ({ id, shortDescription: { text: RULES[id] ?? id } })),
          },
        },
        results: findings.map((one) => ({
          ruleId: one.kind,
          level: one.meant ? 'note' : one.px >= 1 ? 'warning' : 'note',
          message: { text: one.because },
          locations: [location(page, one)],
          properties: { px: one.px, subject: one.subject, at: one.at },
          ...(one.meant && !one.doubtful
            ? { suppressions: [{ kind: 'external', status: 'accepted', justification: one.meant }] }
            : {}),
        })),
      },
    ],
  };
}
