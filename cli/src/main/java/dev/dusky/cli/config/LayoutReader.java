package dev.dusky.cli.config;

import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.LineEnd;
import dev.dusky.core.layout.LongRecords;
import dev.dusky.core.layout.ShortRecords;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Reads one layout. */
final class LayoutReader {

  private static final Map<String, HeaderUse> HEADERS =
      Map.of("true", HeaderUse.NAMES, "false", HeaderUse.ABSENT, "skip", HeaderUse.SKIP);
  private static final Map<String, LineEnd> LINE_ENDS =
      Map.of("auto", LineEnd.AUTO, "lf", LineEnd.LF, "crlf", LineEnd.LF, "cr", LineEnd.CR);
  private static final Map<String, ShortRecords> SHORT =
      Map.of("reject", ShortRecords.REJECT, "fill", ShortRecords.FILL);
  private static final Map<String, LongRecords> LONG =
      Map.of("reject", LongRecords.REJECT, "ignore", LongRecords.IGNORE);

  private LayoutReader() {}

  static DelimitedLayout read(String name, Section section) {
    DelimitedLayout plain = DelimitedLayout.plain(name);
    String kind = section.required("kind");
    if (!kind.equals("delimited") && !kind.isEmpty()) {
      section.problem("kind", "kind cannot be '" + kind + "'; it is delimited");
    }
    String delimiter = section.text("delimiter").orElse(plain.delimiter());
    int quote = character(section, "quote", plain.quote());
    int escape = character(section, "escape", plain.escape());
    if (delimiter.isEmpty() || delimiter.contains("\n") || delimiter.contains("\r")) {
      section.problem("delimiter", "delimiter must be one or more characters, no line end");
      delimiter = plain.delimiter();
    }
    if (quote >= 0 && delimiter.indexOf(quote) >= 0) {
      section.problem("quote", "quote and delimiter must differ");
    }
    if (escape >= 0 && delimiter.indexOf(escape) >= 0) {
      section.problem("escape", "escape and delimiter must differ");
    }
    DelimitedLayout layout =
        new DelimitedLayout(
            name,
            delimiter,
            quote,
            escape,
            section.choice("header", HEADERS, plain.header()),
            section.number("skip-lines", 0, 1_000_000, 0),
            section.text("comment").orElse(""),
            section.texts("nulls").orElse(List.of("")),
            section.flag("nulls-in-quotes", false),
            section.flag("trim", false),
            section.flag("trailing-delimiter", false),
            section.choice("short-records", SHORT, plain.shortRecords()),
            section.choice("long-records", LONG, plain.longRecords()),
            section.choice(
                "encoding", Section.labels(Encoding.values(), Encoding::label), plain.encoding()),
            section.choice("line-end", LINE_ENDS, plain.lineEnd()),
            section.number("record-limit", 1024, 256 << 20, plain.recordLimit()),
            section.number("field-limit", 1, 100_000, plain.fieldLimit()));
    section.done();
    return layout;
  }

  /** One ASCII character, or none for {@code none}. */
  private static int character(Section section, String key, int otherwise) {
    Optional<String> text = section.text(key);
    if (text.isEmpty()) {
      return otherwise;
    }
    if (text.get().equals("none")) {
      return DelimitedLayout.NONE;
    }
    boolean usable =
        text.get().length() == 1 && text.get().charAt(0) < 0x80 && !text.get().isBlank();
    if (!usable) {
      section.problem(key, key + " must be one visible ASCII character, or none");
      return otherwise;
    }
    return text.get().charAt(0);
  }
}
