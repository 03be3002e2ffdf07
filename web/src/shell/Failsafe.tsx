import { Component, type ErrorInfo, type ReactNode } from "react";
import { Button } from "react-bootstrap";
import { copyText } from "../fields/Figure";
import { Notice } from "../notices/Notice";

interface State {
  error?: Error | undefined;
  where?: string | null | undefined;
  copied?: boolean | undefined;
}

/** Where a screen fails, what is around it stays usable, and there is a report to send. */
export class Failsafe extends Component<{ children: ReactNode }, State> {
  override state: State = {};

  static getDerivedStateFromError(error: unknown): State {
    return { error: error instanceof Error ? error : new Error(String(error)) };
  }

  override componentDidCatch(_: Error, { componentStack }: ErrorInfo) {
    this.setState({ where: componentStack });
  }

  override render() {
    const { error, where, copied } = this.state;
    if (!error) return this.props.children;
    const report = [
      `Ratiomet at ${location.pathname}${location.search}`,
      `${navigator.userAgent}, ${innerWidth} x ${innerHeight}`,
      error.stack ?? error.message,
      where ?? "",
    ].join("\n");
    return (
      <main className="page" id="main">
        <Notice role="alert">
          <span>This screen failed: {error.message}. Nothing that was saved is lost.</span>
          <Button onClick={() => this.setState({ error: undefined, copied: false })}>Try again</Button>
          <Button onClick={async () => this.setState({ copied: await copyText(report) })}>
            {copied ? "Report copied" : "Copy report"}
          </Button>
        </Notice>
        <pre className="small scroll">{report}</pre>
      </main>
    );
  }
}
