import type { ReactNode } from 'react';
import classes from './ui.module.css';

/** The head of a stone's settings: what is decided here. */
export function BankHead({ title, about }: { title: string; about: string }) {
  return (
    <header>
      <h1 className={classes.bankTitle}>{title}</h1>
      <p className={classes.bankAbout}>{about}</p>
    </header>
  );
}

export function BankSection({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section>
      <h2 className={classes.bankHeading}>{title}</h2>
      {children}
    </section>
  );
}

export function Card({ children }: { children: ReactNode }) {
  return <div className={classes.card}>{children}</div>;
}

/** Names and values, one a line. */
export function Facts({ facts }: { facts: readonly (readonly [name: string, value: ReactNode])[] }) {
  return (
    <dl className={classes.facts}>
      {facts.map(([name, value]) => (
        <div key={name} className={classes.fact}>
          <dt>{name}</dt>
          <dd>{value}</dd>
        </div>
      ))}
    </dl>
  );
}
