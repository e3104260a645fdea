package dev.dusky.core.load;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.bytes.StorageException;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.record.DelimitedReader;
import dev.dusky.core.table.TableName;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.LongVector;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What the sources of rows promise that read a file from its beginning on threads of their own. */
class SequentialRowsTest {

  private static final Feed FEED =
      new Feed(
          "f",
          "yard",
          FilePattern.of("*"),
          DelimitedLayout.plain("l"),
          new TableName("a", "b"),
          false,
          List.of(FeedColumn.plain("n", SqlType.parse("bigint").orElseThrow(), true)),
          java.util.Optional.empty(),
          List.of(),
          FeedPolicies.DEFAULT.withRejectCap(10));

  private static RowSource rows(boolean ahead, InputStream in) throws IOException {
    DelimitedReader reader = new DelimitedReader("t", in, (DelimitedLayout) FEED.layout());
    FieldPlan plan = FieldPlan.of(FEED, "t", reader.names());
    Supplier<Binder> binders = () -> new Binder(FEED, plan, new FileFacts(Map.of()), false);
    return ahead
        ? new AheadRows("a.csv", reader, binders.get())
        : new RowPipeline("a.csv", reader, binders);
  }

  private static InputStream numbers(int count) {
    StringBuilder text = new StringBuilder("n\n");
    for (int i = 0; i < count; i++) {
      text.append(i).append('\n');
    }
    return new ByteArrayInputStream(text.toString().getBytes(StandardCharsets.US_ASCII));
  }

  @ParameterizedTest
  @ValueSource(booleans = {true, false})
  void rowsKeepTheOrderOfTheFile(boolean ahead) throws Exception {
    int count = 700_000;
    long expected = 0;
    try (RowSource pipeline = rows(ahead, numbers(count))) {
      for (RowBatch batch = pipeline.next(); batch != null; batch = pipeline.next()) {
        LongVector vector = (LongVector) batch.columns().get(0);
        for (int i = 0; i < batch.count(); i++) {
          assertEquals(expected, vector.get(batch.selected(i)));
          assertEquals(expected + 1, batch.recordNumber(batch.selected(i)));
          expected++;
        }
        pipeline.recycle(batch);
      }
      assertNull(pipeline.next());
    }
    assertEquals(count, expected);
  }

  @ParameterizedTest
  @ValueSource(booleans = {true, false})
  void aFailureOfTheStorageReachesTheCallerBehindTheRowsBeforeIt(boolean ahead) throws Exception {
    StorageException error = new StorageException("cut", null);
    InputStream cut =
        new InputStream() {
          private final InputStream in = numbers(200_000);

          @Override
          public int read() throws IOException {
            throw new UnsupportedOperationException();
          }

          @Override
          public int read(byte[] b, int off, int len) throws IOException {
            int n = in.read(b, off, len);
            if (n < 0) {
              throw error;
            }
            return n;
          }
        };
    try (RowSource pipeline = rows(ahead, cut)) {
      Throwable thrown =
          assertThrows(
              StorageException.class,
              () -> {
                for (RowBatch b = pipeline.next(); b != null; b = pipeline.next()) {
                  pipeline.recycle(b);
                }
              });
      assertSame(error, thrown);
    }
  }

  @ParameterizedTest
  @ValueSource(booleans = {true, false})
  void closingEarlyStopsAllThreads(boolean ahead) throws Exception {
    RowSource pipeline = rows(ahead, numbers(2_000_000));
    pipeline.recycle(pipeline.next());
    pipeline.close();
    assertFalse(
        Thread.getAllStackTraces().keySet().stream()
            .anyMatch(t -> t.isAlive() && t.getName().startsWith("dusky-")));
  }
}
