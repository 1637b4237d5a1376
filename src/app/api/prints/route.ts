import { printOptionsSchema } from '../../../core/print/print-options';
import { serverPrints } from '../../../server/prints';
import { answer, RefusedError, saveBody } from '../../../server/requests';
import { checkShot } from '../../../server/shot-file';

export const dynamic = 'force-dynamic';

export function GET(request: Request): Promise<Response> {
  return answer(request, () => Response.json({ prints: serverPrints().list() }));
}

/** Takes a shot as the body, and how it is to be printed as `options`, JSON in the address. */
export function POST(request: Request): Promise<Response> {
  return answer(request, async () => {
    const options = readOptions(new URL(request.url).searchParams.get('options'));
    const prints = serverPrints();
    const { id, file } = prints.prepare();
    try {
      await saveBody(request, file);
      await checkShot(file);
    } catch (error) {
      prints.discard(id);
      throw error;
    }
    return Response.json(prints.add(id, options), { status: 201 });
  });
}

function readOptions(text: string | null): ReturnType<typeof printOptionsSchema.parse> {
  let data: unknown;
  try {
    data = JSON.parse(text ?? '');
  } catch {
    throw new RefusedError(400, 'options are wanted as JSON');
  }
  const read = printOptionsSchema.safeParse(data);
  if (read.success) return read.data;
  const { path, message } = read.error.issues[0]!;
  throw new RefusedError(400, `${path.join('.') || 'options'}: ${message}`);
}
