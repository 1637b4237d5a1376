'use client';
import ExpandMore from '@mui/icons-material/ExpandMore';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';
import { getSetting } from '../../core/look/look';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { SwitchDot } from '../common';
import { isPathOf } from './Rows';

interface GroupProps {
  title: string;
  /** Said beside the title: what is set, or how much there is. */
  summary?: string;
  /** Whether it is open at first. */
  open?: boolean;
  /** Path of the switch that turns what it sets off and on. */
  toggle?: string;
  /** Settings in it: the group unfolds when one of them is looked for. */
  paths?: readonly string[];
  children: React.ReactNode;
}

/** A group of a panel that can be folded. */
export function Group({ title, summary, open = true, toggle, paths, children }: GroupProps) {
  const revealed = useDesk((state) => state.revealed);
  const isSought = paths?.some((path) => isPathOf(path, revealed)) ?? false;
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
      {toggle && <GroupSwitch title={title} path={toggle} />}
      <ButtonBase
        aria-expanded={unfolded}
        onClick={() => setUnfolded(!unfolded)}
        sx={{
          width: toggle ? 'calc(100% - 24px)' : '100%',
          minHeight: 24,
          justifyContent: 'flex-start',
          gap: 0.75,
        }}
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

/** Turns off and on what a group sets; its values stay. */
function GroupSwitch({ title, path }: { title: string; path: string }) {
  const on = useShot((state) => getSetting(state.look, path) as boolean);
  const change = useShot((state) => state.change);
  return (
    <Tooltip title={on ? `Switch ${title} off` : `Switch ${title} on`}>
      <ButtonBase
        role="switch"
        aria-checked={on}
        aria-label={`${title} on`}
        onClick={() => change(path, !on)}
        sx={{ width: 24, height: 24, verticalAlign: 'top', justifyContent: 'flex-start' }}
      >
        <SwitchDot on={on} />
      </ButtonBase>
    </Tooltip>
  );
}
