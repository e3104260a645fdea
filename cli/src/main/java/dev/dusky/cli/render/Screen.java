package dev.dusky.cli.render;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.dusky.core.text.SafeText;
import java.io.PrintStream;
import java.util.Map;

/** Where a command's results go: text for people, or one JSON object a line for machines. */
public final class Screen {

  private final PrintStream out;
  private final PrintStream err;
  private final boolean json;
  private final Style style;
  private final Terminal terminal;
  private ObjectMapper mapper;

  /** A screen over the given streams. */
  public Screen(PrintStream out, PrintStream err, boolean json, Style style, Terminal terminal) {
    this.out = out;
    this.err = err;
    this.json = json;
    this.style = style;
    this.terminal = terminal;
  }

  /** Whether results are JSON lines. */
  public boolean json() {
    return json;
  }

  /** The colours in force. */
  public Style style() {
    return style;
  }

  /** The properties of the terminal. */
  public Terminal terminal() {
    return terminal;
  }

  /** A line for people; nothing in JSON mode. */
  public void line(String text) {
    if (!json) {
      out.println(SafeText.styled(text, false));
    }
  }

  /** Text of several lines for people, such as a statement; nothing in JSON mode. */
  public void block(String text) {
    if (!json) {
      out.println(SafeText.styled(text, true));
    }
  }

  /** A table for people; nothing in JSON mode. */
  public void table(TableText table) {
    if (!json) {
      table.lines(terminal.width()).forEach(this::line);
    }
  }

  /** A JSON object for machines; nothing otherwise. */
  public void object(Map<String, ?> fields) {
    if (json) {
      out.println(toJson(fields));
    }
  }

  /** Text as it is, in both modes. */
  public void raw(String text) {
    out.println(SafeText.styled(text, true));
  }

  /** A remark that belongs to no result. */
  public void remark(String text) {
    err.println(SafeText.styled(text, true));
  }

  /** The stream for remarks and progress. */
  public PrintStream err() {
    return err;
  }

  private String toJson(Object value) {
    if (mapper == null) {
      mapper = new ObjectMapper();
    }
    try {
      return SafeText.json(mapper.writeValueAsString(value));
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("a result that cannot be written as JSON", e);
    }
  }
}
