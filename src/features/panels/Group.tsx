'use client';
import ExpandMore from '@mui/icons-material/ExpandMore';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { useState } from 'react';
import { useDesk } from '../../state/desk-store';

interface GroupProps {
  title: string;
  /** Said beside the title: what is set, or how much there is. */
  summary?: string;
  /** Whether it is open at first. */
  open?: boolean;
  /** Settings in it: the group unfolds when one of them is looked for. */
  paths?: readonly string[];
  children: React.ReactNode;
}

/** A group of a panel that can be folded. */
export function Group({ title, summary, open = true, paths, children }: GroupProps) {
  const revealed = useDesk((state) => state.revealed);
  const isSought = revealed !== null && (paths?.includes(revealed) ?? false);
  const [unfolded, setUnfolded] = useState(open || isSought);
  const [seen, setSeen] = useState(revealed);
  if (revealed !== seen) {
    setSeen(revealed);
    if (isSought) setUnfolded(true);
  }
  return (
    <Box
      component="section"
      aria-label={title}
      sx={{ borderTop: '1px solid', borderColor: 'divider', py: 0.75 }}
    >
      <ButtonBase
        aria-expanded={unfolded}
        onClick={() => setUnfolded(!unfolded)}
        sx={{ width: '100%', minHeight: 24, justifyContent: 'flex-start', gap: 0.75 }}
      >
        <Box component="h3" sx={{ fontSize: 12, fontWeight: 600, m: 0 }}>
          {title}
        </Box>
        <Box
          component="span"
          sx={{
            flex: 1,
            textAlign: 'right',
            fontFamily: 'var(--figures)',
            fontSize: 11,
            color: 'text.secondary',
          }}
        >
          {summary}
        </Box>
        <ExpandMore
          sx={{ fontSize: 16, color: 'text.secondary', transform: unfolded ? 'rotate(180deg)' : 'none' }}
        />
      </ButtonBase>
      {unfolded && <Box sx={{ pt: 0.5 }}>{children}</Box>}
    </Box>
  );
}
