package dev.dusky.formats;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.LongVector;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** The threads of a file of row groups: order, failures, and stopping in the middle. */
@Timeout(60)
class GroupReaderTest {

  /** Gives numbered rows, and fails at the given one. */
  private static final class Numbers implements GroupDecoder {
    private final int groups;
    private final int runs;
    private Throwable failure;
    private int failingGroup = -1;
    private int failingColumn;
    private final CountDownLatch begun = new CountDownLatch(1);
    private volatile boolean closed;
    private volatile boolean swallowing;

    Numbers(int groups, int runs) {
      this.groups = groups;
      this.runs = runs;
    }

    Numbers failing(int group, int column, Throwable with) {
      failingGroup = group;
      failingColumn = column;
      failure = with;
      return this;
    }

    @Override
    public int groups() {
      return groups;
    }

    @Override
    public List<String> names() {
      return List.of("n", "m");
    }

    @Override
    public List<int[]> shares(int most) {
      return List.of(new int[] {0}, new int[] {1});
    }

    @Override
    public Share open(int[] columns) {
      int column = columns[0];
      return new Share() {
        private int group;
        private int run;

        @Override
        public TypedRows newRows() {
          SqlType type = SqlType.parse("bigint").orElseThrow();
          return new TypedRows(names(), List.of(type, type), columns, null);
        }

        @Override
        public void begin(int newGroup) {
          group = newGroup;
          run = 0;
        }

        @Override
        public boolean next(TypedRows rows) throws IOException {
          begun.countDown();
          if (swallowing) {
            Thread.interrupted(); // as libraries do that retry a read
          }
          if (group == failingGroup && run == 1 && column == failingColumn) {
            if (failure instanceof Error error) {
              throw error;
            }
            if (failure == null) {
              return false; // this column ends too early
            }
            throw (IOException) failure;
          }
          if (run == runs) {
            return false;
          }
          rows.begin(2, "row group " + group, run * 2L + 1);
          for (int r = 0; r < 2; r++) {
            long value = (group * runs + run) * 2L + r;
            ((LongVector) rows.vector(column)).set(r, column == 0 ? value : -value);
          }
          run++;
          return true;
        }

        @Override
        public void close() {}
      };
    }

    @Override
    public void close() {
      closed = true;
    }
  }

  private static List<Long> next(GroupReader reader, RecordBatch batch) throws IOException {
    List<Long> values = new ArrayList<>();
    if (reader.read(batch)) {
      for (int r = 0; r < batch.records(); r++) {
        long value = ((LongVector) batch.typed().vectors().get(0)).get(r);
        assertEquals(-value, ((LongVector) batch.typed().vectors().get(1)).get(r));
        values.add(value);
      }
    }
    return values;
  }

  @Test
  void rowsComeInTheOrderOfTheFile() throws IOException {
    try (GroupReader reader = new GroupReader("a.parquet", "Parquet", new Numbers(7, 40))) {
      RecordBatch batch = new RecordBatch(0);
      for (long n = 0; n < 7 * 40 * 2; n += 2) {
        assertEquals(List.of(n, n + 1), next(reader, batch));
      }
      assertEquals(List.of(), next(reader, batch));
    }
  }

  @Test
  void everyRowKnowsItsPlace() throws IOException {
    try (GroupReader reader = new GroupReader("a.parquet", "Parquet", new Numbers(2, 2))) {
      RecordBatch batch = new RecordBatch(0);
      List<String> places = new ArrayList<>();
      while (reader.read(batch)) {
        places.add(batch.place(1));
      }
      assertEquals(
          List.of(
              "row group 0, row 2",
              "row group 0, row 4",
              "row group 1, row 2",
              "row group 1, row 4"),
          places);
    }
  }

  @Test
  void closingInTheMiddleStopsTheDecoders() throws Exception {
    for (boolean swallowing : new boolean[] {false, true}) {
      Numbers numbers = new Numbers(4, 1_000_000);
      numbers.swallowing = swallowing;
      GroupReader reader = new GroupReader("a.parquet", "Parquet", numbers);
      next(reader, new RecordBatch(0));
      reader.close();
      assertTrue(numbers.closed);
    }
  }

  @Test
  void closingWithoutReadingStopsThemToo() throws Exception {
    Numbers numbers = new Numbers(4, 1_000_000);
    GroupReader reader = new GroupReader("a.parquet", "Parquet", numbers);
    numbers.begun.await();
    reader.close();
    assertTrue(numbers.closed);
  }

  @Test
  void aGroupThatCannotBeDecodedIsNamedOnceItsTurnComes() throws IOException {
    Numbers numbers = new Numbers(3, 2).failing(2, 1, new IOException("bad page"));
    try (GroupReader reader = new GroupReader("a.orc", "ORC", numbers)) {
      RecordBatch batch = new RecordBatch(0);
      for (int i = 0; i < 5; i++) {
        assertFalse(next(reader, batch).isEmpty());
      }
      Failure failure = assertThrows(Failure.class, () -> next(reader, batch));
      assertEquals(
          "a.orc is cut or damaged: stripe 3 of 3 of the ORC file cannot be decoded: bad page."
              + " Nothing of it was loaded. Stage the file again, then load again.",
          failure.getMessage());
    }
  }

  @Test
  void errorsOfTheProgramStayErrors() throws IOException {
    NoClassDefFoundError missing = new NoClassDefFoundError("codec");
    Numbers numbers = new Numbers(1, 2).failing(0, 1, missing);
    try (GroupReader reader = new GroupReader("a.orc", "ORC", numbers)) {
      RecordBatch batch = new RecordBatch(0);
      next(reader, batch);
      assertSame(missing, assertThrows(Error.class, () -> next(reader, batch)));
    }
  }

  @Test
  void columnsOfDifferentLengthsAreDamage() throws IOException {
    for (int column : new int[] {0, 1}) {
      Numbers numbers = new Numbers(1, 3).failing(0, column, null);
      try (GroupReader reader = new GroupReader("a.parquet", "Parquet", numbers)) {
        RecordBatch batch = new RecordBatch(0);
        assertEquals(List.of(0L, 1L), next(reader, batch));
        Failure failure = assertThrows(Failure.class, () -> next(reader, batch));
        assertTrue(failure.getMessage().contains("different numbers of rows"));
      }
    }
  }
}
