package dev.dusky.core.record;

import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.LineEnd;
import dev.dusky.core.layout.LongRecords;
import dev.dusky.core.layout.ShortRecords;
import java.util.List;

/** Builds layouts for tests, starting from the plain one without a header. */
public final class Layouts {

  public String delimiter = ",";
  public int quote = '"';
  public int escape = DelimitedLayout.NONE;
  public HeaderUse header = HeaderUse.ABSENT;
  public int skipLines;
  public String comment = "";
  public List<String> nulls = List.of("");
  public boolean nullsInQuotes;
  public boolean trim;
  public boolean trailingDelimiter;
  public ShortRecords shortRecords = ShortRecords.REJECT;
  public LongRecords longRecords = LongRecords.REJECT;
  public Encoding encoding = Encoding.UTF_8;
  public LineEnd lineEnd = LineEnd.AUTO;
  public int recordLimit = DelimitedLayout.DEFAULT_RECORD_LIMIT;
  public int fieldLimit = DelimitedLayout.DEFAULT_FIELD_LIMIT;

  public static Layouts plain() {
    return new Layouts();
  }

  public Layouts with(java.util.function.Consumer<Layouts> change) {
    change.accept(this);
    return this;
  }

  public DelimitedLayout build() {
    return new DelimitedLayout(
        "test",
        delimiter,
        quote,
        escape,
        header,
        skipLines,
        comment,
        nulls,
        nullsInQuotes,
        trim,
        trailingDelimiter,
        shortRecords,
        longRecords,
        encoding,
        lineEnd,
        recordLimit,
        fieldLimit);
  }
}
