import Box from '@mui/material/Box';

/** Names and figures, a line each. */
export function Facts({ facts }: { facts: readonly [string, string][] }) {
  return facts.map(([name, value]) => (
    <Box key={name} sx={{ display: 'flex', justifyContent: 'space-between', fontSize: 11, minHeight: 17 }}>
      <Box component="span" sx={{ color: 'text.secondary' }}>
        {name}
      </Box>
      <Box component="span" sx={{ fontFamily: 'var(--figures)' }}>
        {value}
      </Box>
    </Box>
  ));
}
