import { serverPrints } from '../../../../../server/prints';
import { answer, RefusedError } from '../../../../../server/requests';
import { zipStream } from '../../../../../server/zip';

export const dynamic = 'force-dynamic';

/** The frames of a print that are there, as one archive. */
export function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return answer(request, async () => {
    const prints = serverPrints();
    const { id } = await params;
    const record = prints.find(id);
    if (!record)
      throw new RefusedError(
        404,
        'there is no such print; results are kept until they are fetched, or a day',
      );
    const files = prints.files(id);
    if (files.names.length === 0) throw new RefusedError(409, 'no frame of it is printed yet');
    const isOver = record.state === 'done';
    const body = zipStream(files, () => {
      if (isOver) prints.markFetched(id);
    });
    const name = encodeURIComponent(`${record.options.name}.zip`);
    return new Response(body, {
      headers: {
        'Content-Type': 'application/zip',
        'Content-Disposition': `attachment; filename*=UTF-8''${name}`,
        'Cache-Control': 'no-store',
      },
    });
  });
}
