package dev.dusky.core.bind;

import static dev.dusky.core.bind.TestFeeds.column;
import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.record.RecordAppender;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.TypedColumns;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import dev.dusky.core.vector.VectorText;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What becomes of columns that came typed from their file. */
class TypedColumnBinderTest {

  private static ColumnVector vector(SqlType type, Object... values) {
    ColumnVector vector = ColumnVector.of(type);
    vector.reset(values.length);
    for (int r = 0; r < values.length; r++) {
      Object value = values[r];
      if (value == null) {
        vector.setNull(r);
      } else if (vector instanceof LongVector longs) {
        longs.set(r, ((Number) value).longValue());
      } else if (vector instanceof DoubleVector doubles) {
        doubles.set(r, ((Number) value).doubleValue());
      } else if (vector instanceof UuidVector uuids) {
        UUID uuid = (UUID) value;
        uuids.set(r, uuid.getMostSignificantBits(), uuid.getLeastSignificantBits());
      } else if (vector instanceof DecimalVector decimals) {
        BigInteger unscaled = ((BigDecimal) value).unscaledValue();
        if (unscaled.bitLength() < 64) {
          decimals.set(r, unscaled.longValue());
        } else {
          decimals.setWide(r, unscaled);
        }
      } else {
        byte[] bytes = ((String) value).getBytes(StandardCharsets.UTF_8);
        ((BytesVector) vector).set(r, bytes, 0, bytes.length);
      }
    }
    return vector;
  }

  /** Binds one column and gives the good values as text and the problems behind them. */
  private static List<String> bound(String given, FeedColumn wanted, Object... values) {
    SqlType type = SqlType.parse(given).orElseThrow();
    ColumnVector source = vector(type, values);
    Feed feed =
        TestFeeds.of(
            new ColumnarLayout("p", ColumnarLayout.Format.PARQUET, List.of(), 1 << 20),
            List.of(),
            wanted);
    RecordBatch batch = new RecordBatch(0);
    TypedColumns columns =
        new TypedColumns(List.of(type), List.of(source), r -> ("{\"row\":" + r + "}").getBytes());
    RecordAppender.typed(batch, columns, values.length);
    RecordAppender.places(batch, r -> "row group 1, row " + (r + 1));
    Binder binder =
        new Binder(
            feed,
            FieldPlan.of(feed, "a.parquet", List.of(wanted.name())),
            new FileFacts(Map.of()),
            true);
    RowBatch rows = binder.newBatch();
    binder.bind(batch, rows);
    List<String> found = new ArrayList<>();
    for (int i = 0; i < rows.count(); i++) {
      ColumnVector column = rows.columns().get(0);
      int r = rows.selected(i);
      found.add(column.isNull(r) ? "null" : VectorText.text(wanted.type(), column, r));
    }
    for (Reject reject : rows.rejects()) {
      found.add(
          "%s: %s %s %s"
              .formatted(
                  reject.place(),
                  reject.problems().get(0).code().label(),
                  reject.problems().get(0).message(),
                  new String(reject.raw(), StandardCharsets.UTF_8)));
    }
    return found;
  }

  @Test
  void equalTypesAreCopied() {
    UUID uuid = UUID.fromString("0f8fad5b-d9cb-469f-a165-70867728950e");
    assertEquals(List.of("7", "null"), bound("bigint", column("a", "bigint"), 7L, null));
    assertEquals(List.of("0.5"), bound("double precision", column("a", "double precision"), 0.5));
    assertEquals(List.of(uuid.toString()), bound("uuid", column("a", "uuid"), uuid));
    assertEquals(List.of("2026-03-02"), bound("date", column("a", "date"), 20_514L));
    assertEquals(List.of("true"), bound("boolean", column("a", "boolean"), 1L));
    assertEquals(
        List.of("1.50", "123456789012345678901234567890.12"),
        bound(
            "decimal(32,2)",
            column("a", "decimal(38,2)"),
            new BigDecimal("1.50"),
            new BigDecimal("123456789012345678901234567890.12")));
  }

  @Test
  void wholeNumbersMustFit() {
    assertEquals(
        List.of(
            "32767",
            "row group 1, row 2: out-of-range '32768' is out of range for smallint {\"row\":1}",
            "row group 1, row 3: out-of-range '-40000' is out of range for smallint {\"row\":2}"),
        bound("bigint", column("a", "smallint"), 32_767L, 32_768L, -40_000L));
    assertEquals(List.of("-5"), bound("smallint", column("a", "bigint"), -5L));
  }

  @Test
  void aNullWhereNoneMayBeIsAReject() {
    assertEquals(
        List.of("1", "row group 1, row 2: null-value no value, but it is not null {\"row\":1}"),
        bound("integer", column("a", "integer not null"), 1L, null));
  }

  @Test
  void aDefaultTakesThePlaceOfNull() {
    assertEquals(
        List.of("1", "9"),
        bound("integer", TestFeeds.withDefault(column("a", "integer"), "9"), 1L, null));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "bigint | varchar(4) | 1234 | 1234",
        "bigint | decimal(6,2) | 1234 | 1234.00",
        "double precision | decimal(6,2) | 1.5 | 1.50",
        "double precision | varchar(9) | 1.25 | 1.25",
        "double precision | real | 0.25 | 0.25",
      })
  void otherTypesGoThroughTheirText(String given, String wanted, double value, String text) {
    assertEquals(List.of(text), bound(given, column("a", wanted), value));
  }

  @Test
  void textIsReadAsStrictlyAsInAFileOfText() {
    assertEquals(
        List.of(
            "12",
            "row group 1, row 2: bad-number '1x' is not a number of type integer {\"row\":1}"),
        bound("text", column("a", "integer"), "12", "1x"));
    assertEquals(
        List.of(
            "abc",
            "row group 1, row 2: text-too-long 'abcd' has 4 characters, more than varchar(3) holds"
                + " {\"row\":1}"),
        bound("text", column("a", "varchar(3)"), "abc", "abcd"));
  }

  @Test
  void nothingIsRounded() {
    assertEquals(
        List.of(
            "1.5",
            "row group 1, row 2: too-many-decimals '1.25' has more than 1 decimal {\"row\":1}"),
        bound(
            "decimal(9,2)",
            column("a", "decimal(9,1)"),
            new BigDecimal("1.50"),
            new BigDecimal("1.25")));
  }
}
