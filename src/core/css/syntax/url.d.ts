/** The URL Standard's class, which every platform that the core runs on has; the core uses no more of it than this. */
declare class URL {
  constructor(address: string, base?: URL | string);
  readonly origin: string;
  readonly pathname: string;
  readonly href: string;
}
