package dev.dusky.cli.board;

import dev.dusky.cli.render.Screen;
import java.io.IOException;
import java.util.Optional;
import org.jline.terminal.Terminal;
import org.jline.terminal.TerminalBuilder;
import org.jline.utils.ShutdownHooks;

/** Finds the terminal that a board can be shown on. */
public final class BoardTerminal {

  private BoardTerminal() {}

  /**
   * The terminal of this process; empty if input or output is none, or if it cannot be drawn on.
   */
  public static Optional<Terminal> open(Screen screen) {
    String kind = System.getenv("TERM");
    boolean capable = kind != null && !kind.equals("dumb");
    if (!screen.terminal().out() || System.console() == null || !capable) {
      return Optional.empty();
    }
    try {
      // The board itself restores the terminal when the program is stopped; the library's hook
      // would
      // close the terminal while the board is still drawn.
      System.setProperty(ShutdownHooks.PROP_DISABLE_SHUTDOWN_HOOK, "true");
      // Signals stay with the JVM: Ctrl-C must end the watcher, not only the board.
      return Optional.of(
          TerminalBuilder.builder().system(true).dumb(false).nativeSignals(false).build());
    } catch (IOException | IllegalStateException e) {
      screen.remark("The board cannot be shown on this terminal (" + e.getMessage() + ").");
      return Optional.empty();
    }
  }
}
