import { BankHead } from '../../ui/Bank.js';
import bank from '../../workspace/workspace.module.css';
import { FootageStrip, PlayingStage } from '../shared.js';
import type { UnbuiltStone } from '../stone.js';
import classes from './unbuilt.module.css';

/** The screen of a stone whose work does not exist yet: the footage, and a plain word. */
export function UnbuiltScreen({ stone }: { stone: UnbuiltStone }) {
  return (
    <>
      <PlayingStage />
      <aside className={bank.bank} aria-label={stone.name}>
        <BankHead title={stone.name} about={stone.about} />
        <p className={classes.note}>{stone.name} is not built yet. Nothing on this stone can be set.</p>
      </aside>
      <FootageStrip />
    </>
  );
}
