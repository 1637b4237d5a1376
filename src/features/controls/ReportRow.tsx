'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';

interface ReportRowProps {
  /** What is reported, in small figures. */
  children?: React.ReactNode;
  warning?: boolean;
  testId?: string;
  /** The button beside it, and whether what it shows is on show. */
  button: string;
  pressed: boolean;
  onPress: () => void;
}

/** Figures under a group of settings, with a button that shows on the picture what they speak of. */
export function ReportRow({ children, warning = false, testId, button, pressed, onPress }: ReportRowProps) {
  return (
    <Box
      sx={{ display: 'flex', alignItems: 'flex-start', justifyContent: 'space-between', gap: 1, pt: 0.75 }}
    >
      <Box
        data-testid={testId}
        sx={{ fontFamily: 'var(--figures)', fontSize: 11, color: warning ? 'error.main' : 'text.secondary' }}
      >
        {children}
      </Box>
      <Button
        size="small"
        variant="outlined"
        aria-pressed={pressed}
        color={pressed ? 'primary' : 'inherit'}
        sx={{ whiteSpace: 'nowrap', flex: 'none' }}
        onClick={onPress}
      >
        {button}
      </Button>
    </Box>
  );
}
