package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FeedInputs;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.expression.Columns;
import dev.dusky.core.expression.Evaluator;
import dev.dusky.core.expression.ExpressionFault;
import dev.dusky.core.expression.Formula;
import dev.dusky.core.expression.NoResult;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.testkit.FeedBuilder;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/**
 * Holds every expression of expressions.txt, over rows of all types, against the real PostgreSQL:
 * the same value in the same text, the same type, null where it says null, no result where it
 * fails.
 */
class ExpressionsAgainstPostgresTest {

  private static final String COLUMNS =
      "n integer, s smallint, i integer, b bigint, d decimal(12,3), w decimal(30,10),"
          + " f double precision, r real, t text, v varchar(20), c char(4), day date, at timestamp,"
          + " z timestamp with time zone, tod time, ok boolean, u uuid, j json";

  private static final String ROWS =
      """
      n|s|i|b|d|w|f|r|t|v|c|day|at|z|tod|ok|u|j
      1|1|1|1|1.500|1.0000000000|0.5|0.5|abc|café|ab|2026-03-02|2026-03-02 10:11:12|2026-03-02 10:11:12Z|06:15:00|true|00000000-0000-0000-0000-000000000001|{"a": 1, "b": {"c": "x"}, "list": [1, 2], "flag": true, "nothing": null}
      2|-7|42|5000000000|-2.250|12345678901234567890.0123456789|1234.5678|0.1|ÄÖ|Élan Vital|abcd|2024-02-29|2024-12-31 23:59:59.999999|2024-12-31T23:59:59.5+02:00|23:59:59.25|false|a0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11|{"a": "one", "rows": [{"x": 5}, {"y": 6}]}
      3|32767|2147483647|9223372036854775807|999999999.999|0.0000000001|1e300|3.4e38|''|''|''|1999-12-31|1999-12-31 00:00:00|1970-01-01 00:00:00Z|00:00:00|true|ffffffff-ffff-ffff-ffff-ffffffffffff|[{"a": 1.50}, {"a": 2}]
      4|0|0|0|0.000|0.0000000000|0|0|  spaced  |a_c|x|2026-01-01|2026-01-01 12:30:45.123|2026-06-30 12:00:00-05:00|12:30:45.123456|false|12345678-1234-1234-1234-123456789012|{"a": {"deep": [[1]]}, "list": []}
      5|-32768|-2147483648|-9223372036854775808|-0.001|-99999999999999999999.9999999999|-1e-300|-1.5e-40|100%|日本語|a|0004-05-06|0004-05-06 00:00:00|2000-02-29 12:00:00Z|01:02:03|true|00000000-0000-0000-0000-000000000000|7
      6|||||||||||||||||
      """;

  private static Connection postgres;
  private static RowBatch rows;
  private static Feed feed;

  @BeforeAll
  static void prepare() throws SQLException, IOException {
    String admin = TestPostgres.server().getJdbcUrl("postgres", "postgres");
    try (Connection connection = DriverManager.getConnection(admin);
        Statement statement = connection.createStatement()) {
      statement.execute(
          "create database expressions template template0 encoding utf8"
              + " locale_provider builtin builtin_locale 'C.UTF-8' lc_collate 'C' lc_ctype 'C'");
    }
    postgres =
        DriverManager.getConnection(
            "jdbc:postgresql://localhost:" + TestPostgres.server().getPort() + "/expressions",
            "postgres",
            "");
    FeedBuilder builder = new FeedBuilder("expressions");
    for (String column : COLUMNS.split(", ")) {
      builder.column(column.substring(0, column.indexOf(' ')), column.split(" ", 2)[1]);
    }
    feed = builder.layout(FeedBuilder.delimitedBy("|")).build();
    rows = bound();
    createTable();
  }

  @AfterAll
  static void close() throws SQLException {
    postgres.close();
  }

  private static RowBatch bound() throws IOException {
    byte[] text = ROWS.replace("''", "\"\"").replace("{\"", "{\"").getBytes(StandardCharsets.UTF_8);
    try (RecordReader reader =
        Readers.open(
            SourceFile.of("rows", new ByteArrayInputStream(text)),
            feed.layout(),
            FeedInputs.of(feed).request())) {
      Binder binder =
          new Binder(
              feed, FieldPlan.of(feed, "rows", reader.names()), new FileFacts(Map.of()), false);
      RowBatch batch = binder.newBatch();
      RecordBatch records = new RecordBatch(1 << 16);
      reader.read(records);
      binder.bind(records, batch);
      assertEquals(List.of(), batch.rejects());
      assertEquals(6, batch.count());
      return batch;
    }
  }

  private static void createTable() throws SQLException {
    try (Statement statement = postgres.createStatement()) {
      statement.execute("set time zone 'UTC'");
      statement.execute("create table rows (" + COLUMNS + ")");
      for (String line : ROWS.lines().skip(1).toList()) {
        StringBuilder values = new StringBuilder();
        for (String value : line.split("\\|", -1)) {
          String literal = value.equals("''") ? "''" : "'" + value.replace("'", "''") + "'";
          values
              .append(values.length() == 0 ? "" : ", ")
              .append(value.isEmpty() ? "null" : literal);
        }
        statement.execute("insert into rows values (" + values + ")");
      }
      statement.execute(
          """
          create function attempt(expression text, n integer) returns text language plpgsql as $$
          declare result text;
          begin
            execute format('select coalesce((%s)::text, ''(null)'') || '' '' || pg_typeof(%s)::text'
              || ' from rows where n = %s', expression, expression, n) into result;
            return result;
          exception when others then
            return 'no result';
          end $$""");
    }
  }

  private static List<String> inPostgres(String expression) throws SQLException {
    List<String> results = new ArrayList<>();
    try (PreparedStatement query =
        postgres.prepareStatement("select attempt(?, n) from rows order by n")) {
      query.setString(1, expression);
      try (ResultSet row = query.executeQuery()) {
        while (row.next()) {
          results.add(row.getString(1));
        }
      }
    }
    return results;
  }

  private static List<String> inCore(String expression) {
    List<String> results = new ArrayList<>();
    Evaluator evaluator;
    try {
      Columns columns = new Columns();
      for (FeedColumn column : feed.columns()) {
        columns.add(column.name(), column.type().kind());
      }
      columns.vectors(rows.columns().toArray(ColumnVector[]::new));
      evaluator = Evaluator.of(Formula.of(expression), columns);
    } catch (ExpressionFault e) {
      return List.of("no result", "no result", "no result", "no result", "no result", "no result");
    }
    for (int row = 0; row < 6; row++) {
      try {
        String text = evaluator.eval(row) ? evaluator.text() : "(null)";
        results.add(text + " " + evaluator.type().sql());
      } catch (NoResult e) {
        results.add("no result");
      }
    }
    return results;
  }

  private static String comparable(String result) {
    return result
        .replaceAll(" numeric$", " decimal")
        .replaceAll(" (character varying|character|unknown)$", " text")
        .replaceAll(" without time zone$", "");
  }

  @Test
  void everyExpressionGivesWhatPostgresGives() throws SQLException, IOException {
    List<String> differences = new ArrayList<>();
    int compared = 0;
    int withResult = 0;
    for (String expression : expressions()) {
      List<String> expected = inPostgres(expression).stream().map(r -> comparable(r)).toList();
      List<String> actual = inCore(expression).stream().map(r -> comparable(r)).toList();
      compared++;
      withResult += expected.stream().anyMatch(r -> !r.equals("no result")) ? 1 : 0;
      for (int row = 0; row < 6; row++) {
        if (!expected.get(row).equals(actual.get(row))) {
          differences.add(
              "%s, row %d: PostgreSQL [%s], core [%s]"
                  .formatted(expression, row + 1, expected.get(row), actual.get(row)));
        }
      }
    }
    assertEquals(List.of(), differences);
    assertTrue(compared > 500 && withResult > 450, compared + " compared, " + withResult);
  }

  private static List<String> expressions() throws IOException {
    try (InputStream in =
        ExpressionsAgainstPostgresTest.class.getResourceAsStream("expressions.txt")) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8)
          .lines()
          .filter(line -> !line.startsWith("#"))
          .toList();
    }
  }
}
