'use client';
import dynamic from 'next/dynamic';

/** A Plotly chart, loaded when the first one is shown. */
export const Chart = dynamic(() => import('./plotly'), { ssr: false });
