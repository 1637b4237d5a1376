import { serverPrints } from '../../../../server/prints';
import { answer, RefusedError } from '../../../../server/requests';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ id: string }>;
}

/** The print that an address names. */
async function find({ params }: Context) {
  const record = serverPrints().find((await params).id);
  if (!record)
    throw new RefusedError(404, 'there is no such print; results are kept until they are fetched, or a day');
  return record;
}

export function GET(request: Request, context: Context): Promise<Response> {
  return answer(request, async () => Response.json(await find(context)));
}

/** Gives a print up, or removes what it left. */
export function DELETE(request: Request, context: Context): Promise<Response> {
  return answer(request, async () => {
    serverPrints().remove((await find(context)).id);
    return new Response(null, { status: 204 });
  });
}

/** Prints again what of it is not there. */
export function POST(request: Request, context: Context): Promise<Response> {
  return answer(request, async () => {
    const record = await find(context);
    serverPrints().retry(record.id);
    return Response.json(record);
  });
}
