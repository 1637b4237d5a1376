import { serverPrints } from '../../../../server/prints';
import { answer } from '../../../../server/requests';

export const dynamic = 'force-dynamic';

/** A line that says nothing keeps the connection. */
const ALIVE_MS = 15_000;

/** All prints whenever one of them changes, as events that the server sends. */
export function GET(request: Request): Promise<Response> {
  return answer(request, () => {
    const prints = serverPrints();
    const encoder = new TextEncoder();
    let end = (): void => undefined;
    const stream = new ReadableStream<Uint8Array>({
      start(control) {
        const send = (text: string): void => control.enqueue(encoder.encode(text));
        const tell = (): void => send(`data: ${JSON.stringify({ prints: prints.list() })}\n\n`);
        const stop = prints.subscribe({ onChange: tell, onEnd: () => close() });
        const alive = setInterval(() => send(': alive\n\n'), ALIVE_MS);
        end = () => {
          stop();
          clearInterval(alive);
        };
        const close = (): void => {
          end();
          control.close();
        };
        request.signal.addEventListener('abort', () => end());
        tell();
      },
      cancel: () => end(),
    });
    const headers = { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store' };
    return new Response(stream, { headers });
  });
}
