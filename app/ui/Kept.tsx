/** A boundary round a part of a screen: what goes wrong in it is told there, and the rest goes on. */
import { Component, type ErrorInfo, type ReactNode } from 'react';

interface KeptProps {
  /** What the part is called, as in "The bench". */
  name: string;
  /** When this changes, the part is tried again. */
  of?: string;
  children: ReactNode;
}

export class Kept extends Component<KeptProps, { error: Error | null; of: string | undefined }> {
  override state = { error: null as Error | null, of: this.props.of };

  static getDerivedStateFromError = (error: Error) => ({ error });

  static getDerivedStateFromProps({ of }: KeptProps, state: { of: string | undefined }) {
    return of === state.of ? null : { error: null, of };
  }

  override componentDidCatch(error: Error, info: ErrorInfo) {
    console.error(error, info.componentStack);
  }

  override render() {
    const { error } = this.state;
    if (!error) return this.props.children;
    return (
      <div className="grid size-full place-items-center bg-sheet p-4" role="alert">
        <div className="max-w-sm text-center">
          <p>{this.props.name} stopped working. Your take is kept, and everything else goes on.</p>
          <p className="my-2 text-muted">{error.message}</p>
          <button className="button" onClick={() => this.setState({ error: null })}>
            Show it again
          </button>
        </div>
      </div>
    );
  }
}
