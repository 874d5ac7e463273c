import { NextResponse, type NextRequest } from 'next/server';
import { contentPolicy, isOwnHost } from './src/frame/policy';

/** Every page: only to those who ask this machine by its own name, and with a policy of what the page may do. */
export function proxy(request: NextRequest): NextResponse {
  if (!isOwnHost(request.headers.get('host'), process.env['GENTLE_COMPASS_HOST']))
    return new NextResponse('This server answers to its own name only. Started with GENTLE_COMPASS_HOST it answers to others.\n', { status: 421 });
  const nonce = btoa(crypto.randomUUID());
  const policy = contentPolicy(nonce);
  const headers = new Headers(request.headers);
  // The page is drawn with the nonce that stands in this header.
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  return response;
}

export const config = { matcher: ['/((?!api/|_next/static|_next/image|icon.svg).*)'] };
