import { Component, type ReactNode } from 'react';
import styles from './Frame.module.css';

/** A page that breaks while it is drawn says so, in place of going blank. */
export class Boundary extends Component<{ children: ReactNode }, { broken: boolean }> {
  override state = { broken: false };

  static getDerivedStateFromError() {
    return { broken: true };
  }

  override render() {
    if (!this.state.broken) return this.props.children;
    return (
      <main className={styles.broken}>
        <h1>This page could not be drawn</h1>
        <p>
          Something went wrong in the browser that we did not foresee. What was saved is safe.{' '}
          <button type="button" className="link" onClick={() => window.location.reload()}>
            Draw it again
          </button>{' '}
          or <a href="/">go to the start</a>.
        </p>
      </main>
    );
  }
}
