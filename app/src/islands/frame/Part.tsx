import { Component, Children, type ReactNode } from 'react';
import { Notice } from '../../components/index.ts';

/** One part of a page: should it break while it is drawn, it says so and the rest of the page stays. */
export class Part extends Component<{ children: ReactNode }, { broken: boolean }> {
  override state = { broken: false };

  static getDerivedStateFromError() {
    return { broken: true };
  }

  override render() {
    if (!this.state.broken) return this.props.children;
    return (
      <Notice>
        This part of the page could not be drawn. What was saved is safe, and the rest of the page
        works.{' '}
        <button type="button" className="link" onClick={() => this.setState({ broken: false })}>
          Draw it again
        </button>
      </Notice>
    );
  }
}

/** Each child as a part of its own. */
export function Parts({ children }: { children: ReactNode }) {
  return Children.map(children, (child) => <Part>{child}</Part>);
}
