import { BarController, BarElement, CategoryScale, Chart, LinearScale, Tooltip } from 'chart.js';
import { Bar } from 'react-chartjs-2';
import { formatBytes } from '../../ui/format.js';

Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip);

const LILY = '#1f8a70';

/** Bytes of each frame of the reel, in order. */
export function FrameWeights({ frameBytes }: { frameBytes: readonly number[] }) {
  return (
    <div style={{ position: 'relative', height: 118 }}>
      <Bar
        aria-label={`Weight of each of the ${frameBytes.length} frames; the heaviest has ${formatBytes(Math.max(...frameBytes))}`}
        data={{
          labels: frameBytes.map((_, index) => String(index + 1)),
          datasets: [
            {
              data: [...frameBytes],
              backgroundColor: LILY,
              borderRadius: 2,
              categoryPercentage: 0.95,
              barPercentage: 0.85,
              minBarLength: 2,
            },
          ],
        }}
        options={{
          animation: false,
          maintainAspectRatio: false,
          plugins: {
            tooltip: {
              displayColors: false,
              callbacks: {
                title: ([item]) => `frame ${item.label}`,
                label: (item) => formatBytes(Number(item.raw)),
              },
            },
          },
          scales: {
            x: { display: false },
            y: {
              border: { display: false },
              grid: { color: '#cfd9ce' },
              ticks: { maxTicksLimit: 4, color: '#5b716c', callback: (value) => formatBytes(Number(value)) },
            },
          },
        }}
      />
    </div>
  );
}
