package dev.dusky.lake;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.balance.Difference;
import dev.dusky.core.balance.FeedProof;
import dev.dusky.core.balance.Landing;
import dev.dusky.core.balance.TotalCheck;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.expect.Expectations;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.JournalChoice;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.rehearse.Rehearsal;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.TableFit;
import dev.dusky.core.tidy.Tidied;
import dev.dusky.core.tidy.TidyOrder;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.lake.file.FolderFiles;
import dev.dusky.lake.file.StoredFiles;
import dev.dusky.lake.pointer.DatabasePointers;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.lake.read.LiveRows;
import dev.dusky.lake.tidy.LakeTidying;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import dev.dusky.testkit.RandomNested;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.ledger.JdbcLedger;
import dev.dusky.warehouses.ledger.LoadRows;
import dev.dusky.warehouses.merging.JdbcMergeTables;
import dev.dusky.warehouses.posting.JdbcTables;
import dev.dusky.warehouses.proofs.JdbcProofs;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;
import org.apache.iceberg.CatalogProperties;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.DataFiles;
import org.apache.iceberg.FileScanTask;
import org.apache.iceberg.SortOrderComparators;
import org.apache.iceberg.StructLike;
import org.apache.iceberg.Table;
import org.apache.iceberg.catalog.TableIdentifier;
import org.apache.iceberg.data.IcebergGenerics;
import org.apache.iceberg.data.InternalRecordWrapper;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.io.CloseableIterable;
import org.apache.iceberg.io.FileIO;
import org.apache.iceberg.jdbc.JdbcCatalog;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Tables in a folder and a ledger in a database agree at every moment. What a table has is read by
 * the library's own JDBC catalog, as another engine would read it.
 */
abstract class LakeContract {

  private static final String ALL_TYPES =
      "boolean,smallint,integer,bigint,decimal(5;2),decimal(15;3),decimal(30;4),real,double precision,"
          + "char(3),varchar(9),text,date,time,timestamp,timestamp with time zone,uuid,json,varbinary";

  @TempDir Path folder;
  Database database;
  JdbcLedger ledger;
  FileIO files;
  private DatabaseSettings address;

  abstract DatabaseSettings address() throws Exception;

  abstract Database open(DatabaseSettings settings);

  abstract JdbcTables ledgerTables(Database of);

  /** Where the tables are. */
  String place() {
    return "file:" + folder.resolve("tables");
  }

  /** Each how many-th step of writing fails in turn. */
  int stride() {
    return 1;
  }

  /** The files there. */
  FileIO files() throws Exception {
    return new FolderFiles(folder.resolve("tables"));
  }

  @BeforeEach
  void prepare() throws Exception {
    address = address();
    database = open(address);
    ledger = new JdbcLedger(database);
    ledger.prepare();
    files = files();
  }

  @AfterEach
  void close() {
    database.close();
  }

  final LakeCatalog catalog(FileIO of) {
    return catalog(database, of);
  }

  /** The catalog with its ledger in that database. */
  LakeCatalog catalog(Database at, FileIO of) {
    return new LakeCatalog(new DatabasePointers("dusky"), place(), of);
  }

  final LakeTables tables(FileIO of) {
    return tables(database, of);
  }

  final LakeTables tables(Database at, FileIO of) {
    return new LakeTables(at, ledgerTables(at), catalog(at, of));
  }

  static LoadStart start(Feed feed) {
    return new LoadStart(
        LoadKind.LOAD,
        feed.name(),
        feed.into().toString(),
        "declared",
        "tester",
        "here",
        "test",
        Instant.now());
  }

  final LoadResult load(Feed feed, Depot depot, FileIO with) {
    return new FeedLoader(
            ledger, tables(with), LoadRun.of(feed, depot, new LoadListener() {}, () -> false))
        .run(start(feed));
  }

  /** A table as the library's own catalog gives it to any engine. */
  Table asOthersSee(TableName name) {
    JdbcCatalog catalog = new JdbcCatalog(props -> files, null, false);
    Map<String, String> properties = new HashMap<>();
    properties.put(CatalogProperties.URI, reading());
    properties.put(CatalogProperties.WAREHOUSE_LOCATION, place());
    properties.put("jdbc.schema-version", "V1");
    address.user().ifPresent(user -> properties.put("jdbc.user", user));
    catalog.initialize("dusky", properties);
    return catalog.loadTable(TableIdentifier.of(name.schema(), name.table()));
  }

  /** The address at which a second connection may read. */
  String reading() {
    return address.url();
  }

  final List<Record> rows(TableName name) throws IOException {
    List<Record> rows = new ArrayList<>();
    try (CloseableIterable<Record> all = IcebergGenerics.read(asOthersSee(name)).build()) {
      all.forEach(rows::add);
    }
    return rows;
  }

  /** The rows of a table by the ledger's number of their file. */
  private Map<Long, Long> byFile(TableName name) throws IOException {
    Map<Long, Long> counts = new TreeMap<>();
    rows(name).forEach(row -> counts.merge((Long) row.getField("dusky_file"), 1L, Long::sum));
    return counts;
  }

  /** The rows that the ledger says are in force, by file. */
  private Map<Long, Long> byLedger(String feed) {
    return database.transact(
        "Reading the ledger",
        h -> {
          Map<Long, Long> counts = new TreeMap<>();
          h.createQuery(
                  "select t.file_id, sum(t.loaded_rows) as n from dusky.tally t join dusky.file f"
                      + " on f.file_id = t.file_id where f.feed = :feed group by t.file_id")
              .bind("feed", feed)
              .map((row, context) -> counts.put(row.getLong("file_id"), row.getLong("n")))
              .list();
          counts.values().removeIf(n -> n == 0);
          return counts;
        });
  }

  private static Feed feed(String name) {
    return new FeedBuilder(name).column("no", "bigint").column("milk", "decimal(9,1)").build();
  }

  private static String text(int file, int rows) {
    StringBuilder text = new StringBuilder("no,milk\n");
    for (int row = 0; row < rows; row++) {
      text.append(file * 1000 + row).append(",2.5\n");
    }
    return text.toString();
  }

  private static MemoryDepot depot(int files, int rows) {
    MemoryDepot depot = new MemoryDepot();
    for (int file = 0; file < files; file++) {
      depot.with("%03d.csv".formatted(file), text(file, rows + file));
    }
    return depot;
  }

  @Test
  void everyTypeComesBackAsItWasRead() throws Exception {
    FeedBuilder builder = new FeedBuilder("types");
    String[] types = ALL_TYPES.replace(';', ',').split(",(?![0-9])");
    StringBuilder header = new StringBuilder();
    for (int i = 0; i < types.length; i++) {
      builder.column("c" + i, types[i]);
      header.append(i == 0 ? "" : ";").append("c").append(i);
    }
    Feed feed = builder.layout(FeedBuilder.delimitedBy(";")).build();
    String full =
        "true;-7;8;9;1.25;-1.125;-123456789012345678901234.5678;0.5;2.25;abc;ä\u20ac;long text;"
            + "2026-03-04;06:07:08.5;2026-03-04T06:07:08.123456;2026-03-04T06:07:08+01:00;"
            + "00112233-4455-6677-8899-aabbccddeeff;{\"a\": [1]};cafe";
    MemoryDepot depot =
        new MemoryDepot()
            .with("a.csv", header + "\n" + full + "\n" + ";".repeat(types.length - 1) + "\n");
    LoadResult result = load(feed, depot, files);
    assertEquals(2, result.tally().loaded(), result.tally().toString());
    List<Record> rows = rows(feed.into());
    Record row = rows.stream().filter(r -> r.getField("c0") != null).findFirst().orElseThrow();
    assertEquals(
        "[true, -7, 8, 9, 1.25, -1.125, -123456789012345678901234.5678, 0.5, 2.25, abc, ä\u20ac,"
            + " long text, 2026-03-04, 06:07:08.500, 2026-03-04T06:07:08.123456,"
            + " 2026-03-04T05:07:08Z, 00112233-4455-6677-8899-aabbccddeeff, {\"a\": [1]}]",
        values(row, types.length - 1));
    assertEquals(
        java.nio.ByteBuffer.wrap(new byte[] {(byte) 0xca, (byte) 0xfe}),
        row.getField("c" + (types.length - 1)));
    assertEquals(
        types.length, nulls(rows.get(rows.get(0) == row ? 1 : 0), types.length), "a row of nulls");
    var shape = tables(files).shape(feed.into()).orElseThrow();
    for (int i = 0; i < types.length; i++) {
      assertEquals(types[i], shape.column("c" + i).orElseThrow().typeText());
    }
  }

  /** Values of declared forms are in the table as they were read, after tidying too. */
  @Test
  void nestedValuesComeBackAsTheyWereRead() throws Exception {
    Random random = new Random(17);
    RandomNested nested = new RandomNested(random);
    FeedBuilder builder =
        new FeedBuilder("nested").column("no", "bigint").layout(JsonLayout.plain("lines"));
    List<SqlType> types = new ArrayList<>();
    for (int i = 0; i < 12; i++) {
      types.add(nested.type(3));
      builder.column("c" + i, types.get(i));
    }
    Feed feed = builder.sort("no desc").build();
    Map<Long, List<Object>> expected = new TreeMap<>();
    MemoryDepot depot = new MemoryDepot();
    for (int file = 0; file < 6; file++) {
      StringBuilder text = new StringBuilder();
      for (long no = file * 10; no < file * 10 + 10; no++) {
        text.append("{\"no\":").append(no);
        List<Object> values = new ArrayList<>();
        for (int i = 0; i < types.size(); i++) {
          boolean none = random.nextInt(8) == 0;
          RandomNested.Value value = nested.value(types.get(i));
          text.append(",\"c%d\":".formatted(i))
              .append(none ? "null" : value.json().replace('\n', ' '));
          values.add(none ? null : value.read());
        }
        text.append("}\n");
        expected.put(no, values);
      }
      load(feed, depot.with(file + ".json", text.toString()), files);
    }
    assertEquals(expected, nestedRows(feed.into(), types.size()));
    TableShape shape = tables(files).shape(feed.into()).orElseThrow();
    for (int i = 0; i < types.size(); i++) {
      assertTrue(shape.column("c" + i).orElseThrow().type().orElseThrow().holds(types.get(i)));
    }
    assertEquals(List.of(), TableFit.problems(feed, shape));
    untilTheClockHasMoved();
    assertEquals(6, tidy(false).stream().mapToLong(Tidied::small).sum());
    assertEquals(expected, nestedRows(feed.into(), types.size()));
  }

  private Map<Long, List<Object>> nestedRows(TableName name, int columns) throws IOException {
    Map<Long, List<Object>> rows = new TreeMap<>();
    for (Record row : rows(name)) {
      List<Object> values = new ArrayList<>();
      for (int i = 0; i < columns; i++) {
        values.add(plain(row.getField("c" + i)));
      }
      rows.put((Long) row.getField("no"), values);
    }
    return rows;
  }

  /** A value of a row without the library's classes. */
  private static Object plain(Object value) {
    if (value instanceof Record record) {
      Map<String, Object> members = new HashMap<>();
      record
          .struct()
          .fields()
          .forEach(f -> members.put(f.name(), plain(record.getField(f.name()))));
      return members;
    }
    if (value instanceof List<?> elements) {
      return elements.stream().map(LakeContract::plain).collect(Collectors.toList());
    }
    if (value instanceof Map<?, ?> entries) {
      Map<Object, Object> all = new HashMap<>();
      entries.forEach((key, entry) -> all.put(key.toString(), plain(entry)));
      return all;
    }
    return value;
  }

  private static String values(Record row, int columns) {
    List<Object> values = new ArrayList<>();
    for (int i = 0; i < columns; i++) {
      values.add(row.getField("c" + i));
    }
    return values.toString();
  }

  private static long nulls(Record row, int columns) {
    long nulls = 0;
    for (int i = 0; i < columns; i++) {
      nulls += row.getField("c" + i) == null ? 1 : 0;
    }
    return nulls;
  }

  /** Whatever step of writing fails, table and ledger agree, and the next load completes it. */
  @Test
  void tableAndLedgerAgreeWhereverAWriteFails() throws Exception {
    boolean failed = true;
    for (int point = 0; failed; point += stride()) {
      Feed feed = feed("fails" + point);
      MemoryDepot depot = depot(2, 20);
      int[] left = {point};
      FileIO faulty =
          new FaultyFiles(
              files,
              () -> {
                if (left[0]-- == 0) {
                  throw new UncheckedIOException(new IOException("the store fails"));
                }
              });
      failed = false;
      try {
        load(feed, depot, faulty);
      } catch (Failure failure) {
        failed = true;
        assertEquals(Failure.Kind.WAREHOUSE, failure.kind());
        assertTrue(failure.getMessage().contains("the store fails"), failure.getMessage());
      }
      boolean exists = tables(files).shape(feed.into()).isPresent();
      assertEquals(
          byLedger(feed.name()), exists ? byFile(feed.into()) : Map.of(), "at step " + point);
      load(feed, depot, files);
      assertEquals(byLedger(feed.name()), byFile(feed.into()), "after step " + point);
      assertEquals(41, rows(feed.into()).size(), "at step " + point);
      assertTrue(point < 100);
    }
  }

  /** A transaction that is not committed leaves the table as it was, for every reader. */
  @Test
  void nobodySeesWhatIsNotCommitted() throws Exception {
    Feed feed = feed("unseen");
    load(feed, depot(1, 5), files);
    LakeTables tables = tables(files);
    try (var trial = tables.trial()) {
      assertEquals(5, tables.takeOut(trial, feed.into(), 1, 1));
    }
    assertEquals(5, rows(feed.into()).size());
  }

  @Test
  void thePostingOfAFileIsTakenOutWholeOrFromASharedDataFile() throws Exception {
    for (boolean together : List.of(false, true)) {
      Feed feed = feed(together ? "shared" : "alone");
      MemoryDepot depot = depot(4, 10);
      if (!together) { // one data file for each
        for (int file = 0; file < 4; file++) {
          load(feed, depot(file + 1, 10), files);
        }
      }
      load(feed, depot, files);
      Map<Long, Long> before = byFile(feed.into());
      assertEquals(4, before.size());
      long file = before.keySet().stream().skip(1).findFirst().orElseThrow();
      long load =
          (Long)
              rows(feed.into()).stream()
                  .filter(row -> row.getField("dusky_file").equals(file))
                  .findFirst()
                  .orElseThrow()
                  .getField("dusky_load");
      LakeTables tables = tables(files);
      long taken =
          database.transact(
              "Taking out",
              h ->
                  tables.takeOut(
                      dev.dusky.warehouses.connection.JdbcTransaction.of(h),
                      feed.into(),
                      load,
                      file));
      assertEquals(before.get(file), taken);
      before.remove(file);
      assertEquals(before, byFile(feed.into()));
    }
  }

  @Test
  void theLedgerIsComparedWithTheTableRowByRow() throws Exception {
    Feed feed = feed("proved");
    Feed summed =
        feed.withPolicies(
            feed.policies()
                .withExpectations(
                    new Expectations(
                        List.of("milk"), Optional.empty(), Optional.empty(), Optional.empty())));
    load(summed, depot(3, 10), files);
    LakeTables tables = tables(files);
    JdbcProofs proofs =
        new JdbcProofs(
            database,
            tables,
            tables.landed(),
            new JdbcMergeTables(database, ledgerTables(database)));
    Landing landing = new Landing("proved", feed.into(), List.of("milk"));
    FeedProof proof = proofs.feeds(List.of(landing)).get(0);
    assertEquals(33, proof.tableRows());
    assertEquals(List.of(), proof.differences());
    assertEquals(
        List.of(new TotalCheck("milk", new BigDecimal("82.5"), new BigDecimal("82.5"))),
        proof.totals());
    assertEquals(0, proofs.strays(feed.into()));
    Table table = asOthersSee(feed.into()); // another engine deletes a data file, or doubles one
    DataFile written;
    try (var tasks = table.newScan().planFiles()) {
      written = tasks.iterator().next().file();
    }
    table.newDelete().deleteFile(written).commit();
    assertTrue(proofs.feeds(List.of(landing)).get(0).differences().size() > 0);
    table
        .newAppend()
        .appendFile(written)
        .appendFile(DataFiles.builder(table.spec()).copy(written).build())
        .commit();
    List<Difference> doubled = proofs.feeds(List.of(landing)).get(0).differences();
    assertTrue(doubled.stream().allMatch(d -> d.twice() == d.inLedger()), doubled.toString());
  }

  @Test
  void aColumnComesWithTheRowsThatNeedItOrNotAtAll() throws Exception {
    Feed feed =
        new FeedBuilder("grows")
            .column("no", "bigint")
            .column("milk", "decimal(9,1)")
            .drift(DriftPolicy.of(DriftPolicy.Fields.EXTEND))
            .build();
    load(feed, depot(1, 5), files);
    MemoryDepot wider = depot(1, 5).with("9.csv", "no,milk,fat\n9,1.5,3.75\n");
    load(feed, wider, files);
    assertEquals(6, rows(feed.into()).size());
    assertTrue(asOthersSee(feed.into()).schema().findField("fat") != null);
  }

  @Test
  void aRehearsalPredictsTheLoadAndWritesNothing() throws Exception {
    Feed feed = feed("rehearsed");
    load(feed, depot(1, 5), files);
    Rehearsal rehearsal = new Rehearsal(ledger, tables(files), false);
    LoadResult predicted =
        new FeedLoader(
                rehearsal.ledger((file, outcome, rejects) -> {}),
                rehearsal.tables(),
                LoadRun.of(feed, depot(3, 5), new LoadListener() {}, () -> false))
            .run(start(feed));
    assertEquals(13, predicted.tally().loaded());
    assertEquals(5, rows(feed.into()).size());
    assertEquals(13, load(feed, depot(3, 5), files).tally().loaded());
  }

  @Test
  void aRequiredColumnRefusesRowsAndNotTheFile() throws Exception {
    Feed strict =
        new FeedBuilder("strict")
            .column("no", "bigint not null")
            .column("milk", "decimal(9,1)")
            .build();
    load(strict, new MemoryDepot().with("0.csv", "no,milk\n1,1\n"), files);
    Feed loose =
        feed("strict").withPolicies(new FeedBuilder("x").tolerance("any").build().policies());
    LoadResult result =
        load(
            loose,
            new MemoryDepot().with("0.csv", "no,milk\n1,1\n").with("1.csv", "no,milk\n,7\n2,8\n"),
            files);
    assertEquals(1, result.tally().loaded());
    assertEquals(1, result.tally().rejected());
    assertEquals(1, result.count(FileState.POSTED));
    assertEquals(2, rows(loose.into()).size());
  }

  private List<Tidied> tidy(boolean rehearsed) {
    List<Tidied> done = new ArrayList<>();
    new LakeTidying(database, catalog(files), place())
        .run(new TidyOrder(Duration.ZERO, rehearsed, start(feed("tidied"))), done::add);
    return done;
  }

  private List<String> stored() {
    List<String> locations = new ArrayList<>();
    ((StoredFiles) files).each(place(), file -> locations.add(file.location()));
    return locations.stream().sorted().toList();
  }

  private String metadata(TableName table) {
    LakeCatalog catalog = catalog(files);
    return database.transact("Looking", h -> catalog.locations(h.getConnection()).get(table));
  }

  private void untilTheClockHasMoved() {
    Instant begun = ((StoredFiles) files).now(place());
    while (!((StoredFiles) files).now(place()).isAfter(begun)) {
      Thread.onSpinWait();
    }
  }

  @Test
  void aTidiedTableHasTheSameRowsAndOnlyTheFilesThatItNeeds() throws Exception {
    FeedBuilder builder = new FeedBuilder("tidied");
    String[] types = ALL_TYPES.replace(';', ',').split(",(?![0-9])");
    for (int i = 0; i < types.length; i++) {
      builder.column("c" + i, types[i]);
    }
    Feed feed = builder.layout(FeedBuilder.delimitedBy(";")).build();
    String header =
        IntStream.range(0, types.length).mapToObj(i -> "c" + i).collect(Collectors.joining(";"));
    MemoryDepot depot = new MemoryDepot();
    for (int file = 0; file < 6; file++) {
      String row =
          "true;-7;%d;9;1.25;-1.125;-123456789012345678901234.5678;0.5;2.25;abc;x;long;2026-03-04;"
                  .formatted(file)
              + "06:07:08.5;2026-03-04T06:07:08.123456;2026-03-04T06:07:08+01:00;"
              + "00112233-4455-6677-8899-aabbccddeeff;{\"a\": [1]};cafe\n";
      depot.with(file + ".csv", header + "\n" + row + ";".repeat(types.length - 1) + "\n");
      load(feed, depot, files);
    }
    int[] step = new int[1];
    FileIO failing =
        new FaultyFiles(
            files,
            () -> {
              if (step[0]++ == 3) {
                throw new UncheckedIOException(new IOException("no space"));
              }
            });
    depot.with("7.csv", header + "\n" + ";".repeat(types.length - 1) + "\n");
    assertThrows(Failure.class, () -> load(feed, depot, failing));
    List<String> before = rows(feed.into()).stream().map(Record::toString).sorted().toList();
    List<String> all = stored();
    untilTheClockHasMoved();
    assertEquals(5, tidy(true).get(0).states());
    assertEquals(all, stored(), "a rehearsal removes nothing");
    List<Tidied> done = tidy(false);
    assertEquals(6, done.get(0).small());
    assertEquals(1, done.get(0).into());
    assertTrue(done.get(done.size() - 1).leftovers() > 0, done.toString());
    assertEquals(before, rows(feed.into()).stream().map(Record::toString).sorted().toList());
    untilTheClockHasMoved();
    tidy(false);
    untilTheClockHasMoved();
    assertEquals(List.of(), tidy(false), "nothing is left to do");
    Table table = asOthersSee(feed.into());
    try (CloseableIterable<FileScanTask> tasks = table.newScan().planFiles()) {
      int count = 0;
      for (FileScanTask task : tasks) {
        count += task.deletes().isEmpty() ? 1 : 100;
      }
      assertEquals(1, count);
    }
    assertEquals(
        2,
        ledger.journal().loads(JournalChoice.ALL, 50).stream()
            .filter(line -> line.kind().equals("tidy"))
            .count());
  }

  /** Every data file, after loads and after they are merged into larger ones. */
  @Test
  void dataFilesAreSortedAsDeclared() throws Exception {
    for (String partition : List.of("", "bucket(2, no)")) {
      FeedBuilder builder =
          new FeedBuilder("sorted" + partition.length())
              .column("no", "bigint")
              .column("farm", "varchar(4)")
              .column("milk", "decimal(9,1)")
              .sort("farm desc", "milk");
      Feed feed = (partition.isEmpty() ? builder : builder.partition(partition)).build();
      Random random = new Random(partition.length());
      MemoryDepot depot = new MemoryDepot();
      for (int file = 0; file < 6; file++) {
        StringBuilder text = new StringBuilder("no,farm,milk\n");
        for (int row = 0; row < 30; row++) {
          text.append(file * 100 + row)
              .append(random.nextInt(5) == 0 ? "," : ",F" + random.nextInt(9))
              .append(random.nextInt(5) == 0 ? "," : "," + random.nextInt(40))
              .append('\n');
        }
        load(feed, depot.with(file + ".csv", text.toString()), files);
      }
      List<String> before = rows(feed.into()).stream().map(Record::toString).sorted().toList();
      assertEquals(180, before.size());
      assertTrue(sortedFiles(feed.into()) >= 6);
      untilTheClockHasMoved();
      tidy(false);
      assertEquals(partition.isEmpty() ? 1 : 2, sortedFiles(feed.into()));
      assertEquals(before, rows(feed.into()).stream().map(Record::toString).sorted().toList());
    }
  }

  /** Counts the data files of a table, each of which must be sorted. */
  private long sortedFiles(TableName name) throws IOException {
    Table table = asOthersSee(name);
    Comparator<StructLike> order =
        SortOrderComparators.forSchema(table.schema(), table.sortOrder());
    InternalRecordWrapper one = new InternalRecordWrapper(table.schema().asStruct());
    long count = 0;
    try (CloseableIterable<FileScanTask> tasks = table.newScan().planFiles()) {
      for (FileScanTask task : tasks) {
        assertEquals(table.sortOrder().orderId(), task.file().sortOrderId());
        Record last = null;
        try (CloseableIterable<Record> rows = LiveRows.of(table, task, table.schema())) {
          for (Record row : rows) {
            assertTrue(
                last == null || order.compare(one.copyFor(last), one.copyFor(row)) <= 0,
                last + " before " + row);
            last = row;
          }
        }
        count++;
      }
    }
    return count;
  }

  @Test
  void whatARunningLoadMayHaveWrittenStays() throws Exception {
    Feed feed = feed("running");
    load(feed, depot(1, 5), files);
    String loose = asOthersSee(feed.into()).location() + "/loose.parquet";
    try (OutputStream out = files.newOutputFile(loose).create()) {
      out.write(1);
    }
    untilTheClockHasMoved();
    long load = database.transact("Beginning", h -> LoadRows.insert(h, start(feed)));
    assertEquals(List.of(), tidy(false));
    database.transact(
        "Ending",
        h -> {
          LoadRows.end(h, load, LoadState.FAILED, "killed");
          return null;
        });
    assertEquals(1, tidy(false).stream().mapToLong(Tidied::leftovers).sum());
  }

  @Test
  void aClockThatIsFarBehindTheLastChangeIsNamed() throws Exception {
    Feed feed = feed("skewed");
    MemoryDepot depot = depot(1, 3);
    load(feed, depot, files);
    String metadata = metadata(feed.into());
    String text;
    try (InputStream in = new GZIPInputStream(files.newInputFile(metadata).newStream())) {
      text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
    }
    files.deleteFile(metadata);
    String ahead =
        Pattern.compile("(timestamp-ms|last-updated-ms)\"\\s*:\\s*(\\d+)")
            .matcher(text)
            .replaceAll(at -> at.group(1) + "\":" + (Long.parseLong(at.group(2)) + 3_600_000));
    try (OutputStream out = new GZIPOutputStream(files.newOutputFile(metadata).create())) {
      out.write(ahead.getBytes(StandardCharsets.UTF_8));
    }
    depot.with("later.csv", text(9, 1));
    Failure behind = assertThrows(Failure.class, () -> load(feed, depot, files));
    assertTrue(
        behind.getMessage().contains("clock is more than a minute ahead"), behind.toString());
    assertEquals(3, rows(feed.into()).size());
  }

  @Test
  void oneTableThatCannotBeReadKeepsAllFilesAndStopsNoOther() throws Exception {
    load(feed("good"), depot(1, 5), files);
    load(feed("bad"), depot(1, 5), files);
    try (OutputStream out =
        files
            .newOutputFile(asOthersSee(feed("good").into()).location() + "/loose.parquet")
            .create()) {
      out.write(1);
    }
    String metadata = metadata(feed("bad").into());
    files.deleteFile(metadata);
    untilTheClockHasMoved();
    List<Tidied> done = tidy(false);
    assertEquals(2, done.stream().filter(t -> !t.failure().isEmpty()).count(), done.toString());
    assertEquals(0, done.stream().mapToLong(Tidied::leftovers).sum());
    assertEquals(5, rows(feed("good").into()).size());
  }

  @Test
  void aTypeThatDoesNotFitIsSaidBeforeAnythingIsMade() {
    Feed feed = new FeedBuilder("wide").column("no", "decimal(50,2)").build();
    Failure failure =
        assertThrows(
            Failure.class, () -> load(feed, new MemoryDepot().with("a.csv", "no\n1\n"), files));
    assertTrue(failure.getMessage().contains("up to 38 digits"), failure.getMessage());
    assertEquals(Optional.empty(), tables(files).shape(feed.into()));
  }

  final Object ask(String sql) throws Exception {
    try (Connection connection =
            DriverManager.getConnection(address.url(), address.user().orElse(null), null);
        Statement statement = connection.createStatement();
        ResultSet row = statement.executeQuery(sql)) {
      row.next();
      return row.getObject(1);
    }
  }
}
