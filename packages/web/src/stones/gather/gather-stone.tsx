import { BankHead, BankSection, Card, Facts } from '../../ui/Bank.js';
import { formatBytes, formatRate, formatSeconds } from '../../ui/format.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import { FootageStageWithFigures, FootageStrip } from '../shared.js';
import type { Stone } from '../stone.js';
import classes from './gather.module.css';

export const gatherStone: Stone = {
  id: 'gather',
  name: 'Gather',
  built: true,
  Value: () => '1 clip',
  Stage: FootageStageWithFigures,
  Bank: GatherBank,
  Lower: FootageStrip,
};

/** Container and codec names as people write them; others as the decoder calls them. */
const KIND_NAMES: Readonly<Record<string, string>> = {
  mov: 'MP4 or MOV',
  matroska: 'Matroska or WebM',
  avi: 'AVI',
  mpeg: 'MPEG',
  mpegts: 'MPEG transport stream',
  h264: 'H.264',
  hevc: 'HEVC',
  vp8: 'VP8',
  vp9: 'VP9',
  av1: 'AV1',
  mpeg2video: 'MPEG-2',
  mpeg4: 'MPEG-4',
  prores: 'ProRes',
  mjpeg: 'Motion JPEG',
  ffv1: 'FFV1',
};

const kindName = (name: string) => KIND_NAMES[name] ?? name;

function GatherBank() {
  const { footage } = useWorkspace();
  return (
    <>
      <BankHead title="Gather" about="What arrived, and what was done to show it right." />
      <BankSection title={footage.name}>
        <Card>
          <Facts
            facts={[
              ['Size', `${footage.width} × ${footage.height} px`],
              ['Length', formatSeconds(footage.seconds)],
              ['Frames', String(footage.frameCount)],
              [
                'Frame rate',
                `${formatRate(footage.frameRate)} fps${footage.variableRate ? ', varying' : ''}`,
              ],
              ['Kind', `${kindName(footage.container)}, ${kindName(footage.codec)}`],
              ['Weight', formatBytes(footage.bytes)],
            ]}
          />
        </Card>
      </BankSection>
      <BankSection title="What was done">
        <ul className={classes.notes}>
          {footage.notes.map((note) => (
            <li key={note}>{note}</li>
          ))}
        </ul>
      </BankSection>
    </>
  );
}
