package dev.dusky.cli.render;

/** Colours, used sparingly; plain text when colour is off. */
public record Style(boolean colour) {

  private String paint(String code, String text) {
    return colour && !text.isEmpty() ? "\u001b[" + code + "m" + text + "\u001b[0m" : text;
  }

  /** All is well. */
  public String good(String text) {
    return paint("32", text);
  }

  /** Worth a look. */
  public String notable(String text) {
    return paint("33", text);
  }

  /** Something is wrong. */
  public String bad(String text) {
    return paint("1;31", text);
  }

  /** Of less weight. */
  public String faint(String text) {
    return paint("2", text);
  }

  /** Of more weight. */
  public String strong(String text) {
    return paint("1", text);
  }

  /** A file's or load's state in its colour. */
  public String state(String state) {
    return switch (state.strip()) {
      case "posted", "done", "mended", "passed" -> good(state);
      case "refused", "failed", "interrupted", "revised", "missing" -> bad(state);
      case "twin", "reversed", "running", "open" -> notable(state);
      default -> state;
    };
  }
}
