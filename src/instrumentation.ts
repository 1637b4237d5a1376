/** Called once when the server starts: prints that an earlier one left go on. */
export async function register(): Promise<void> {
  if (process.env['NEXT_RUNTIME'] !== 'nodejs') return;
  const { serverPrints } = await import('./server/prints');
  serverPrints();
}
