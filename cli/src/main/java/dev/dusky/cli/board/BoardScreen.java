package dev.dusky.cli.board;

import dev.dusky.cli.render.Style;
import java.time.Instant;
import java.util.List;
import java.util.function.ObjIntConsumer;
import org.jline.keymap.BindingReader;
import org.jline.keymap.KeyMap;
import org.jline.terminal.Attributes;
import org.jline.terminal.Size;
import org.jline.terminal.Terminal;
import org.jline.utils.AttributedString;
import org.jline.utils.Display;
import org.jline.utils.InfoCmp.Capability;

/** Draws the board on a terminal's second screen, and reads its keys. */
final class BoardScreen {

  private static final long NAP_MILLIS = 200;
  private static final Size USUAL = new Size(80, 24);

  private final Terminal terminal;
  private final Style style;
  private final BoardState state;
  private final ObjIntConsumer<BoardKey> keys;
  private final KeyMap<BoardKey> bindings = new KeyMap<>();
  private final Display display;
  private Size size = new Size(0, 0);
  private int chosen;
  private boolean details;
  private volatile boolean ended;

  /**
   * A screen.
   *
   * @param keys receives each key that asks for something, and the place of the chosen feed
   */
  BoardScreen(Terminal terminal, Style style, BoardState state, ObjIntConsumer<BoardKey> keys) {
    this.terminal = terminal;
    this.style = style;
    this.state = state;
    this.keys = keys;
    this.display = new Display(terminal, true);
    bindings.bind(BoardKey.UP, "k", KeyMap.key(terminal, Capability.key_up), "\u001b[A");
    bindings.bind(BoardKey.DOWN, "j", KeyMap.key(terminal, Capability.key_down), "\u001b[B");
    bindings.bind(BoardKey.DETAILS, "\r", "\n", "d");
    bindings.bind(BoardKey.SCAN, "s");
    bindings.bind(BoardKey.PAUSE, "p");
    bindings.bind(BoardKey.RESUME, "r");
    bindings.bind(BoardKey.REDRAW, KeyMap.ctrl('L'));
    bindings.bind(BoardKey.QUIT, "q");
  }

  /** Shows the board until it is ended. */
  void run() {
    Attributes before = terminal.enterRawMode();
    Attributes raw = terminal.getAttributes();
    raw.setLocalFlag(Attributes.LocalFlag.ISIG, true); // Ctrl-C reaches the program as a signal
    terminal.setAttributes(raw);
    put(Capability.enter_ca_mode, Capability.keypad_xmit, Capability.cursor_invisible);
    try {
      BindingReader reader = new BindingReader(terminal.reader());
      while (!ended) {
        draw();
        if (reader.peekCharacter(NAP_MILLIS) >= 0) {
          take(reader.readBinding(bindings, null, false));
        }
      }
    } finally {
      put(Capability.cursor_visible, Capability.keypad_local, Capability.exit_ca_mode);
      terminal.setAttributes(before);
      terminal.flush();
    }
  }

  private void put(Capability... capabilities) {
    for (Capability capability : capabilities) {
      terminal.puts(capability);
    }
  }

  private void take(BoardKey key) {
    int feeds = state.view(Instant.now()).feeds().size();
    if (key == null) {
      return; // no key of the board
    }
    switch (key) {
      case UP -> chosen = Math.max(0, chosen - 1);
      case DOWN -> chosen = Math.min(feeds - 1, chosen + 1);
      case DETAILS -> details = !details;
      case REDRAW -> size = new Size(0, 0);
      default -> keys.accept(key, chosen);
    }
  }

  private void draw() {
    Size now = terminal.getSize();
    if (now.getColumns() <= 0 || now.getRows() <= 0) {
      now = USUAL; // a terminal that does not know
    }
    if (!now.equals(size)) {
      size = now;
      display.resize(now.getRows(), now.getColumns());
      display.clear();
      terminal.puts(Capability.clear_screen);
    }
    int columns = now.getColumns();
    List<AttributedString> lines =
        new BoardText(style, state.view(Instant.now()))
            .lines(columns, now.getRows(), chosen, details).stream()
                .map(AttributedString::fromAnsi)
                .map(line -> line.columnSubSequence(0, columns))
                .toList();
    display.update(lines, -1);
  }

  /** Ends {@link #run}, which leaves the terminal as it was. */
  void end() {
    ended = true;
  }
}
