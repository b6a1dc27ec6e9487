/** Findings as SARIF 2.1.0, for tools that show results beside the code. */
import { RULES } from '../rules/index.ts';
import type { Rule } from '../rules/model.ts';
import type { FindingDocument, FindingsDocument } from './findings.ts';

const byId = new Map<string, Rule>(RULES.map((rule) => [rule.id, rule]));

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

/** What SARIF says of a rule (§3.49). */
function descriptor(id: string) {
  const rule = byId.get(id);
  if (!rule) return { id };
  const { title, why, usual, spec } = rule;
  return {
    id,
    shortDescription: { text: title },
    fullDescription: { text: `${why} (${spec.join(', ')})` },
    help: { text: usual },
  };
}

export function sarifDocument({ page, findings }: FindingsDocument, version: string): unknown {
  const ids = [...new Set(findings.map(({ rule }) => rule))];
  return {
    $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: {
          driver: {
            name: 'Normetra',
            version,
            rules: ids.map(descriptor),
          },
        },
        results: findings.map((finding) => ({
          ruleId: finding.rule,
          level: finding.grade !== 'wrong' ? 'note' : finding.px >= 1 ? 'warning' : 'note',
          message: { text: finding.because },
          locations: [location(page, finding)],
          properties: { kind: finding.kind, px: finding.px, subject: finding.subject, at: finding.at },
          ...(finding.grade === 'meant'
            ? { suppressions: [{ kind: 'external', status: 'accepted', justification: finding.meant }] }
            : {}),
        })),
      },
    ],
  };
}
