package dev.dusky.core.layout;

import java.util.List;

/**
 * Delimited text: RFC 4180 and its relatives.
 *
 * @param name the declared name
 * @param delimiter one or more characters between fields
 * @param quote the quote character, or {@link #NONE}
 * @param escape the character that takes the next one literally, or {@link #NONE}; a doubled quote
 *     always means one quote
 * @param header what the first record is
 * @param skipLines physical lines skipped before the header or the first record
 * @param comment lines that begin with this are skipped; empty for none
 * @param nulls field texts that mean null
 * @param nullsInQuotes whether a quoted field can be a null mark too
 * @param trim whether blanks and tabs around a field are dropped
 * @param trailingDelimiter whether each record ends with one more delimiter
 * @param shortRecords policy for too few fields
 * @param longRecords policy for too many fields
 * @param encoding the character encoding
 * @param lineEnd what ends a record
 * @param recordLimit the largest record in bytes
 * @param fieldLimit the largest number of fields in a record
 */
public record DelimitedLayout(
    String name,
    String delimiter,
    int quote,
    int escape,
    HeaderUse header,
    int skipLines,
    String comment,
    List<String> nulls,
    boolean nullsInQuotes,
    boolean trim,
    boolean trailingDelimiter,
    ShortRecords shortRecords,
    LongRecords longRecords,
    Encoding encoding,
    LineEnd lineEnd,
    int recordLimit,
    int fieldLimit)
    implements Layout {

  /** Means "no such character". */
  public static final int NONE = -1;

  /** The default largest record: 4 MiB. */
  public static final int DEFAULT_RECORD_LIMIT = 4 << 20;

  /** The default largest number of fields in a record. */
  public static final int DEFAULT_FIELD_LIMIT = 4_096;

  public DelimitedLayout {
    nulls = List.copyOf(nulls);
  }

  @Override
  public String kind() {
    return "delimited";
  }

  @Override
  public FieldNaming naming() {
    return header == HeaderUse.NAMES ? FieldNaming.HEADER : FieldNaming.POSITION;
  }

  /** The layout of single records, without lines to skip or comments. */
  public DelimitedLayout alone() {
    return new DelimitedLayout(
        name,
        delimiter,
        quote,
        escape,
        header == HeaderUse.NAMES ? HeaderUse.NAMES : HeaderUse.ABSENT,
        0,
        "",
        nulls,
        nullsInQuotes,
        trim,
        trailingDelimiter,
        shortRecords,
        longRecords,
        encoding,
        lineEnd == LineEnd.CR ? LineEnd.CR : LineEnd.LF,
        recordLimit,
        fieldLimit);
  }

  /** Comma, double quote, header by name, empty means null, UTF-8: the layout most files have. */
  public static DelimitedLayout plain(String name) {
    return new DelimitedLayout(
        name,
        ",",
        '"',
        NONE,
        HeaderUse.NAMES,
        0,
        "",
        List.of(""),
        false,
        false,
        false,
        ShortRecords.REJECT,
        LongRecords.REJECT,
        Encoding.UTF_8,
        LineEnd.AUTO,
        DEFAULT_RECORD_LIMIT,
        DEFAULT_FIELD_LIMIT);
  }
}
