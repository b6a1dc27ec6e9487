import { answer, refuse, refuseOddText } from '$lib/server/answer.ts';
import { reasonOfError } from '$lib/server/log.ts';
import { NoDatabase, start, stop } from '$lib/server/state.ts';
import type { Handle, HandleServerError, ServerInit } from '@sveltejs/kit';

export const init: ServerInit = async () => {
  await start().catch((error: unknown) => {
    if (!(error instanceof NoDatabase)) throw error;
    console.error(`normetra: ${error.message}`);
    process.exit(4);
  });
  process.once('sveltekit:shutdown' as never, () => {
    stop().then(
      () => process.exit(0),
      (error: unknown) => {
        console.error(reasonOfError(error));
        process.exit(1);
      },
    );
  });
};

/** Ms in which a request is answered; an upload may take as long as its bytes need. */
const DEADLINE = 60_000;
const UPLOAD_DEADLINE = 15 * 60_000;

const isUpload = ({ method, headers }: Request): boolean =>
  method === 'POST' && (headers.get('content-type') ?? '').startsWith('multipart/');

function withinDeadline(request: Request, work: Promise<Response>): Promise<Response> {
  const ms = isUpload(request) ? UPLOAD_DEADLINE : DEADLINE;
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<Response>((resolve) => {
    timer = setTimeout(
      () => resolve(refuse(`request: it took longer than the ${ms / 1000} s that there are for it.`, 503)),
      ms,
    );
    timer.unref();
  });
  return Promise.race([work, late]).finally(() => clearTimeout(timer));
}

/** Answers of the API are JSON whatever happens; `message`: what the framework says of what it refuses itself. */
async function apiAnswer(response: Response, method: string): Promise<Response> {
  if (response.ok || (response.headers.get('content-type') ?? '').includes('json')) return response;
  if (response.status === 404) return refuse('path: there is no such address in the API.', 404);
  if (response.status === 405) {
    const allow = response.headers.get('allow');
    return refuse(`method: ${method} is not possible here${allow ? `; ${allow} is` : ''}.`, 405);
  }
  if (response.status < 500)
    return refuse(`request: ${(await response.text()).slice(0, 300)}`, response.status);
  return response;
}

export const handle: Handle = async ({ event, resolve }) => {
  const { request, url } = event;
  const isRead = request.method === 'GET' || request.method === 'HEAD';
  const isApi = url.pathname.startsWith('/api/') || url.pathname === '/api';
  if (!isApi && !isRead) return withHeaders(refuse('method: a page is only read: GET or HEAD.', 405), url);
  const isFrame = url.pathname.startsWith('/frame/');
  const response = await withinDeadline(
    request,
    isApi
      ? answer(async () => {
          refuseOddAddress(url);
          return apiAnswer(await resolve(event), request.method);
        })
      : Promise.resolve(resolve(event)),
  );
  return isFrame ? response : withHeaders(response, url);
};

/** What goes with every answer of the application's own: who may show it, and what it may ask for. */
function withHeaders(result: Response, url: URL): Response {
  // What the framework made may not be changed in place.
  const response = new Response(result.body, result);
  const { headers } = response;
  const policy = headers.get('content-security-policy');
  // Frames are of this server alone: of its port, which is known only now.
  if (policy)
    headers.set(
      'content-security-policy',
      policy.replaceAll('*.localhost:*', `*.localhost:${url.port || '80'}`),
    );
  else headers.set('content-security-policy', "default-src 'none'; frame-ancestors 'none'");
  headers.set('x-content-type-options', 'nosniff');
  headers.set('cross-origin-resource-policy', 'same-origin');
  headers.set('referrer-policy', 'same-origin');
  return response;
}

function refuseOddAddress(url: URL): void {
  for (const [name, value] of url.searchParams) {
    refuseOddText(name, 'query');
    refuseOddText(value, name);
  }
}

/** Logs say what happened, and never what was in a request. */
export const handleError: HandleServerError = ({ error, event, status }) => {
  if (status >= 500)
    console.error(`${event.request.method} ${event.url.pathname.slice(0, 200)}: ${reasonOfError(error)}`);
  return {
    message:
      status === 404
        ? 'There is nothing at this address.'
        : 'The server could not do it. Its terminal says why.',
  };
};
