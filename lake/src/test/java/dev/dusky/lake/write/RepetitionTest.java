package dev.dusky.lake.write;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.type.NestedForm;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.testkit.FeedBuilder;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.function.IntFunction;
import java.util.stream.IntStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Columns have a dictionary if a sample shows that their values repeat. */
class RepetitionTest {

  private static final SqlType LIST =
      SqlType.nested(new NestedForm.Items(new NestedForm.Part(SqlType.of(TypeKind.TEXT), false)));

  private static final Feed FEED =
      new FeedBuilder("cow")
          .column("no", "bigint")
          .column("farm", "text")
          .column("seldom", "bigint")
          .column("half", "text")
          .column("tags", LIST)
          .build();

  private static ColumnVector numbers(int rows, IntFunction<Integer> of) {
    LongVector vector = new LongVector();
    vector.reset(rows);
    for (int row = 0; row < rows; row++) {
      if (of.apply(row) == null) {
        vector.setNull(row);
      } else {
        vector.set(row, of.apply(row));
      }
    }
    return vector;
  }

  private static ColumnVector texts(int rows, IntFunction<String> of) {
    BytesVector vector = new BytesVector();
    vector.reset(rows);
    for (int row = 0; row < rows; row++) {
      byte[] text = of.apply(row).getBytes(StandardCharsets.UTF_8);
      vector.set(row, text, 0, text.length);
    }
    return vector;
  }

  @ParameterizedTest
  @CsvSource({
    "0, 499, '[dusky_row]'",
    "0, 500, '[dusky_row, no]'",
    "500, 1100, '[dusky_row, no]'",
    "0, 50000, '[dusky_row, no, seldom]'",
    "30000, 50000, '[dusky_row, no, seldom]'"
  })
  void onlyColumnsWhoseValuesDifferHaveNone(int from, int to, String rare) {
    int[] rows = IntStream.range(0, to).toArray();
    List<ColumnVector> columns =
        List.of(
            numbers(to, row -> row),
            texts(to, row -> "F" + row % 40),
            numbers(to, row -> row % 2 == 0 ? row : null),
            texts(to, row -> "H" + row % 200),
            texts(to, row -> "[\"%d\"]".formatted(row)));
    assertEquals(rare, Repetition.rare(FEED, columns, rows, from, to).toString());
  }
}
