package dev.dusky.app.config;

import dev.dusky.core.draft.HabitDraft;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.layout.Layout;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFileAttributeView;
import java.util.ArrayList;
import java.util.List;

/**
 * Adds feeds and layouts to a configuration file as text, line by line, so that comments and
 * everything else in it stay as they are.
 */
public final class ConfigurationFile {

  private final Path file;
  private final List<String> lines;
  private final String lineEnd;
  private final String mark;

  private ConfigurationFile(Path file, String text) {
    this.file = file;
    this.mark = text.startsWith("\ufeff") ? "\ufeff" : "";
    this.lineEnd = text.contains("\r\n") ? "\r\n" : "\n";
    this.lines = new ArrayList<>(text.substring(mark.length()).lines().toList());
  }

  /** Reads the file's lines. */
  public static ConfigurationFile read(Path file) throws IOException {
    return new ConfigurationFile(file, Files.readString(file));
  }

  /** The lines that would be added for a feed: its layout's, if it needs one, and its own. */
  public static List<String> lines(Feed feed, HabitDraft habit) {
    List<String> all = new ArrayList<>();
    if (!LayoutText.isPlain(feed.layout())) {
      all.add("layouts:");
      all.add("  " + feed.layout().name() + ":");
      LayoutText.of(feed.layout()).forEach(line -> all.add("    " + line));
    }
    all.add("feeds:");
    all.add("  " + feed.name() + ":");
    FeedText.of(feed, layoutName(feed.layout()), habit).forEach(line -> all.add("    " + line));
    return all;
  }

  private static String layoutName(Layout layout) {
    return LayoutText.isPlain(layout) ? layout.kind() : layout.name();
  }

  /** Adds a feed with what is expected of its files, and the layout it needs. */
  public void add(Feed feed, HabitDraft habit) {
    if (!LayoutText.isPlain(feed.layout())) {
      insert("layouts", feed.layout().name(), LayoutText.of(feed.layout()));
    }
    insert("feeds", feed.name(), FeedText.of(feed, layoutName(feed.layout()), habit));
  }

  private void insert(String section, String name, List<String> block) {
    int start = find(section);
    if (start < 0) {
      if (!lines.isEmpty() && !lines.get(lines.size() - 1).isBlank()) {
        lines.add("");
      }
      lines.add(section + ":");
      start = lines.size() - 1;
    }
    String head = lines.get(start);
    String rest = head.substring(head.indexOf(':') + 1).strip();
    if (rest.equals("{}")) {
      lines.set(start, section + ":");
    } else if (!rest.isEmpty() && !rest.startsWith("#")) {
      throw Failure.configuration(file + " cannot take " + section + " " + name)
          .because("line %d has %s in braces".formatted(start + 1, section))
          .hint("Write them as a block, one below the other, or print the lines with --print");
    }
    int indent = 0;
    int end = start + 1;
    int last = start;
    while (end < lines.size()
        && (isBlankOrComment(lines.get(end)) || indentOf(lines.get(end)) > 0)) {
      if (!isBlankOrComment(lines.get(end))) {
        indent = indent == 0 ? indentOf(lines.get(end)) : indent;
        last = end;
      } else if (indentOf(lines.get(end)) > 0 && !lines.get(end).isBlank()) {
        last = end;
      }
      end++;
    }
    indent = indent == 0 ? 2 : indent;
    List<String> added = new ArrayList<>();
    if (last > start) {
      added.add("");
    }
    added.add(" ".repeat(indent) + name + ":");
    for (String line : block) {
      added.add(" ".repeat(indent * 2) + line);
    }
    lines.addAll(last + 1, added);
  }

  private int find(String section) {
    for (int i = 0; i < lines.size(); i++) {
      if (lines.get(i).matches(section + "\\s*:.*")) {
        return i;
      }
    }
    return -1;
  }

  private static boolean isBlankOrComment(String line) {
    return line.isBlank() || line.strip().startsWith("#");
  }

  private static int indentOf(String line) {
    return line.length() - line.stripLeading().length();
  }

  /**
   * Writes the file, whole or not at all, once it has proved to be a sound configuration. It keeps
   * its line ends and rights, and a link to it stays one.
   */
  public void write() throws IOException {
    Path real = file.toRealPath();
    // Relative paths in it resolve against the directory of the link, so it is checked there.
    Path check = beside(file.toAbsolutePath(), real);
    try {
      Configuration.read(check);
    } catch (Failure failure) {
      throw Failure.configuration("The drafted lines do not fit into " + file)
          .because(failure.getMessage())
          .hint("Print the lines with --print and add them by hand");
    } finally {
      Files.delete(check);
    }
    Path whole = beside(real, real);
    try {
      Files.move(whole, real, StandardCopyOption.ATOMIC_MOVE);
    } catch (IOException e) {
      Files.delete(whole);
      throw e;
    }
  }

  /** The new content in a file beside that one, with the rights of the configuration. */
  private Path beside(Path place, Path real) throws IOException {
    Path made = Files.createTempFile(place.getParent(), "." + place.getFileName() + "-", ".new");
    try {
      if (Files.getFileStore(real).supportsFileAttributeView(PosixFileAttributeView.class)) {
        Files.setPosixFilePermissions(made, Files.getPosixFilePermissions(real));
      }
      byte[] bytes =
          (mark + String.join(lineEnd, lines) + lineEnd).getBytes(StandardCharsets.UTF_8);
      try (FileChannel out = FileChannel.open(made, StandardOpenOption.WRITE)) {
        out.write(ByteBuffer.wrap(bytes));
        out.force(true);
      }
      return made;
    } catch (IOException | RuntimeException e) {
      Files.delete(made);
      throw e;
    }
  }
}
