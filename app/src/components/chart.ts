import {
  BarController,
  BarElement,
  Chart,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  ScatterController,
  Ticks,
  Tooltip,
} from 'chart.js';

Chart.register(
  BarController,
  BarElement,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  ScatterController,
  Tooltip,
);

// Numbers along an axis are written as everywhere else: thousands separated, and a minus sign.
Chart.defaults.locale = 'en-GB';
Chart.defaults.scales.linear.ticks.callback = function (value, ...place) {
  return Ticks.formatters.numeric.call(this, Number(value), ...place).replace('-', '−');
};

export { Chart };
