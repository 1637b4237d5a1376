import { styled } from '@mui/material/styles';
import { MaterialDesignContent } from 'notistack';

/** A message to the person: neutral like everything near the picture, its kind told by the colour of its edge and icon. */
export const Notice = styled(MaterialDesignContent)(({ theme }) => {
  const edge = (colour: string): object => ({
    '&&': {
      // The package's own rules stand outside the cascade layer that ours are in, and would win without this.
      backgroundColor: `${theme.palette.background.paper} !important`,
      color: `${theme.palette.text.primary} !important`,
      border: `1px solid ${theme.palette.divider}`,
      borderLeft: `3px solid ${colour}`,
      fontSize: '13px !important',
      maxWidth: 560,
      overflowWrap: 'anywhere',
      '& svg': { color: colour, opacity: '1 !important' },
    },
  });
  return {
    '&.notistack-MuiContent-error': edge(theme.palette.error.main),
    '&.notistack-MuiContent-warning': edge(theme.palette.primary.main),
    '&.notistack-MuiContent-success': edge(theme.palette.success.main),
  };
});
