/** What a value can be completed with where it stands: keywords, the page's own variables, and lengths in units in use. */
import type { InUse } from '$core/css/values/units-in-use.ts';
import { keywordsOf, propertyNames } from './completion.ts';

export interface Option {
  value: string;
  /** What it comes to, where that is not plain. */
  label: string;
}

const MOST = 40;

/** `text`: the whole value as typed so far; what is completed is its last part. */
export function optionsFor(property: string, text: string, { variables, units }: InUse): Option[] {
  const cut = /[^\s,/(]*$/.exec(text)!.index;
  const [before, last] = [text.slice(0, cut), text.slice(cut)];
  const isIn = /var\([^)]*$/.test(before);
  const result: Option[] = [];
  const put = (value: string, label = '') => result.push({ value: before + value, label });
  if (isIn) for (const { name, value } of variables) put(`${name})`, value);
  else if (/^[-+]?(\d+\.?\d*|\.\d+)$/.test(last)) for (const unit of units) put(last + unit);
  else {
    for (const keyword of keywordsOf(property)) put(keyword);
    for (const { name, value } of variables) put(`var(${name})`, value);
  }
  const typed = text.toLowerCase();
  const fits = result.filter(({ value }) => value.toLowerCase().startsWith(typed) && value !== text);
  return (fits.length > 0 ? fits : result).slice(0, MOST);
}

/** The same for declarations typed one behind another, `padding: 4px; width: auto`: a name, then its value. */
export function declarationOptions(typed: string, inUse: InUse): Option[] {
  const cut = typed.lastIndexOf(';') + 1;
  const space = /^\s*/.exec(typed.slice(cut))![0];
  const before = typed.slice(0, cut) + space;
  const text = typed.slice(before.length);
  if (text === '') return [];
  const [name, ...rest] = text.split(':');
  if (rest.length === 0)
    return propertyNames
      .filter((propertyName) => propertyName.startsWith(name!.toLowerCase()))
      .slice(0, 20)
      .map((propertyName) => ({ value: `${before}${propertyName}: `, label: '' }));
  const value = rest.join(':').trimStart();
  return optionsFor(name!.trim().toLowerCase(), value, inUse).map((option) => ({
    value: `${before}${name!.trim()}: ${option.value}`,
    label: option.label,
  }));
}
