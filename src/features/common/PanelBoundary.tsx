'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { Component, type ReactNode } from 'react';

interface Props {
  /** What is lost while it fails, as in "the charts". */
  name: string;
  children: ReactNode;
}

/** Holds what fails in a part of the page to that part, and offers to try it again; the rest goes on. */
export class PanelBoundary extends Component<Props, { why: string | null }> {
  override state: { why: string | null } = { why: null };

  static getDerivedStateFromError(error: unknown): { why: string } {
    return { why: error instanceof Error ? error.message : String(error) };
  }

  override render(): ReactNode {
    const { why } = this.state;
    if (why === null) return this.props.children;
    return (
      <Box role="alert" sx={{ p: 1.5, fontSize: 12, color: 'text.secondary', overflowWrap: 'anywhere' }}>
        {this.props.name} cannot be shown ({why}). The shot is as it was.
        <Button
          size="small"
          color="inherit"
          variant="outlined"
          onClick={() => this.setState({ why: null })}
          sx={{ display: 'block', mt: 1 }}
        >
          Try again
        </Button>
      </Box>
    );
  }
}
