/** Files out of a form as the Shelf sends it. */
import type { SourceFile } from './files.ts';
import { MAX_BYTES, megabytes } from './limits.ts';
import { Refusal } from './refusal.ts';

/** `files` and `paths` in the same order. Throws a Refusal where the form is none or too large. */
export async function uploadOf(request: Request): Promise<SourceFile[]> {
  if (Number(request.headers.get('content-length') ?? 0) > MAX_BYTES * 1.05)
    throw new Refusal(
      `The upload is larger than the ${megabytes(MAX_BYTES)} that a specimen may have. Leave out what the pages do not need.`,
      413,
    );
  let form: FormData;
  try {
    form = await request.formData();
  } catch (error) {
    throw new Refusal(
      `The upload broke off or is not a form with files (${error instanceof Error ? error.message : String(error)}). Send it again.`,
      400,
    );
  }
  const paths = form.getAll('paths').map(String);
  const files = form.getAll('files').filter((one): one is File => one instanceof File);
  return Promise.all(
    files.map(async (file, i) => ({
      path: paths[i] || file.name,
      bytes: new Uint8Array(await file.arrayBuffer()),
    })),
  );
}
