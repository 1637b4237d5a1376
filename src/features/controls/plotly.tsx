'use client';
import Plotly from 'plotly.js';
import createPlotlyComponent from 'react-plotly.js/factory';

/** The chart component, on the small build with cartesian axes; loaded only when a chart is shown. */
export default createPlotlyComponent(Plotly);
