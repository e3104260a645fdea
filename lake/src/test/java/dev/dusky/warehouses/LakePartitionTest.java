package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.tidy.TidyOrder;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.lake.file.FolderFiles;
import dev.dusky.lake.pointer.DatabasePointers;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.h2.H2Dialect;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.Random;
import org.apache.iceberg.FileScanTask;
import org.apache.iceberg.Table;
import org.apache.iceberg.expressions.Expression;
import org.apache.iceberg.expressions.Expressions;
import org.apache.iceberg.io.CloseableIterable;
import org.jdbi.v3.core.Handle;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Tables that are divided have the same rows, and their data files the rows of one partition. */
@Tag("contracts")
class LakePartitionTest extends WarehouseTesting {

  private static final LocalDate FIRST = LocalDate.of(2026, 2, 20);

  @TempDir Path folder;

  @Override
  Warehouse opened() {
    return MirroredLake.in(folder);
  }

  @Override
  DatabaseSettings address() {
    return TestH2.in(folder);
  }

  private static FeedBuilder collections(String name) {
    return new FeedBuilder(name)
        .column("no", "bigint not null")
        .column("farm", "varchar(8)")
        .column("at", "timestamp")
        .column("litres", "decimal(9,1)")
        .column("tank", "uuid")
        .column("grade", "smallint");
  }

  /** Rows of 30 days, more than there are open files, some of them without farm and day. */
  private static MemoryDepot depot() {
    Random random = new Random(5);
    MemoryDepot depot = new MemoryDepot();
    for (int file = 0; file < 6; file++) {
      StringBuilder text = new StringBuilder("no,farm,at,litres,tank,grade\n");
      for (int row = 0; row < 15; row++) {
        int day = random.nextInt(31);
        text.append(file * 100 + row)
            .append(
                day == 30
                    ? ",,"
                    : ",WF%d,%sT0%d:00:00".formatted(day % 4, FIRST.plusDays(day), row % 10))
            .append(
                ",%d.5,00112233-4455-6677-8899-aabbccddeef%d,%d\n"
                    .formatted(row, day % 10, day % 3));
      }
      depot.with(file + ".csv", text.toString());
    }
    return depot;
  }

  private List<List<Object>> all(String table) {
    return query(
        "select no, farm, at, litres, tank, grade, dusky_row from intake.%s order by no"
            .formatted(table));
  }

  /** How many rows the data files have that are read for a condition. */
  private long read(Feed feed, Expression filter) throws IOException {
    Path tables = folder.resolve("tables").toAbsolutePath();
    long rows = 0;
    try (Database database = new Database(address(), new H2Dialect());
        Handle handle = database.connect()) {
      Table table =
          new LakeCatalog(new DatabasePointers("dusky"), "file:" + tables, new FolderFiles(tables))
              .table(handle.getConnection(), feed.into())
              .orElseThrow();
      try (CloseableIterable<FileScanTask> tasks = table.newScan().filter(filter).planFiles()) {
        for (FileScanTask task : tasks) {
          rows += task.file().recordCount();
        }
      }
    }
    return rows;
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "day(at)",
        "month(at) bucket(4,farm)",
        "farm truncate(2,grade)",
        "bucket(3,tank) bucket(2,litres) hour(at)"
      })
  void dividedTablesHaveTheSameRowsAndDataFilesTheirPartition(String fields) throws IOException {
    Feed plain = collections("plain").build();
    Feed divided = collections("divided").partition(fields.split(" ")).build();
    load(plain, depot());
    assertEquals(90, load(divided, depot()).tally().loaded());
    assertEquals(all("plain"), all("divided"));
    for (Feed feed : List.of(plain, divided)) {
      assertEquals(15, warehouse.reversals().file(start(feed), feed.into(), "3.csv", "").rows());
    }
    assertEquals(all("plain"), all("divided"));
    warehouse
        .tidying()
        .orElseThrow()
        .run(
            new TidyOrder(Duration.ZERO, false, start(divided)),
            done -> assertEquals("", done.failure()));
    assertEquals(all("plain"), all("divided"));
    assertEquals(
        List.of(), warehouse.proofs().feed("divided", divided.into(), List.of()).differences());
  }

  @Test
  void oneDayIsReadFromTheFilesOfThatDay() throws IOException {
    Feed feed = collections("divided").partition("day(at)").build();
    load(feed, depot());
    for (int day : List.of(0, 9, 29)) {
      LocalDate date = FIRST.plusDays(day);
      String where = "intake.divided where cast(at as date) = date '" + date + "'";
      Expression filter =
          Expressions.and(
              Expressions.greaterThanOrEqual("at", date + "T00:00:00"),
              Expressions.lessThan("at", date.plusDays(1) + "T00:00:00"));
      assertEquals(count(where), read(feed, filter));
      assertTrue(count(where) > 0);
    }
    assertEquals(count("intake.divided where at is null"), read(feed, Expressions.isNull("at")));
  }
}
