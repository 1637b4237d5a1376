import { NextResponse, type NextRequest } from 'next/server';

/**
 * Gives every page a Content-Security-Policy with a nonce of its own: scripts come from this origin and carry the nonce,
 * or are what a script with the nonce loads; nothing is fetched from elsewhere.
 */
export function proxy(request: NextRequest): NextResponse {
  const nonce = btoa(crypto.randomUUID());
  const policy = contentSecurityPolicy(nonce);
  const headers = new Headers(request.headers);
  headers.set('x-nonce', nonce);
  // The framework takes the nonce for its own scripts from here.
  headers.set('Content-Security-Policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('Content-Security-Policy', policy);
  return response;
}

function contentSecurityPolicy(nonce: string): string {
  // The development server rebuilds modules by evaluating them.
  const development = process.env.NODE_ENV === 'development' ? " 'unsafe-eval'" : '';
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'wasm-unsafe-eval'${development}`,
    // Style sheets are written by the interface's packages as it is drawn.
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "font-src 'self'",
    "connect-src 'self' blob:",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ].join('; ');
}

/** Pages; files of the build get the policy of workers from next.config.ts. */
export const config = { matcher: ['/((?!_next/static|demo/|api/).*)'] };
