package dev.dusky.lake;

import dev.dusky.core.table.TableName;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.warehouse.ResultTaker;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.warehouses.merging.NewTable;
import dev.dusky.warehouses.merging.NewTable.NewColumn;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Statements that make and drop tables, for tests that are written for databases. */
public final class TableStatements {

  private static final Pattern CREATE =
      Pattern.compile("create table (\\w+\\.\\w+) \\((.*)\\)", Pattern.DOTALL);

  private static final Pattern DROP = Pattern.compile("drop schema if exists (\\w+) cascade");

  private static final Pattern COLUMN =
      Pattern.compile(
          "\\s*\"?(\\w+)\"? (.+?)( not null)?(?: default \\w+)?( primary key| unique)?"
              + "( generated .*| references .*| check .*)?\\s*",
          Pattern.DOTALL);

  private static final Pattern NUMBERED = Pattern.compile("(\\w+) \\w+ generated ");

  private static final Pattern INSERT =
      Pattern.compile("insert into (\\S+) \\(([^()]*)\\) (values .*)", Pattern.DOTALL);

  /** The column of each table that a database would fill with a number. */
  private static final Map<String, String> NUMBERS = new HashMap<>();

  private TableStatements() {}

  /** Runs a statement on the tables of a warehouse. */
  public static void run(Warehouse warehouse, String sql, ResultTaker taker) {
    Matcher create = CREATE.matcher(sql);
    Matcher drop = DROP.matcher(sql);
    if (sql.startsWith("create schema")) {
      taker.changed(0);
    } else if (drop.matches()) {
      List<Object> found = new ArrayList<>();
      warehouse.run(
          "select 1 from information_schema.tables where lower(table_name) = 'iceberg_tables'",
          new ResultTaker() {
            @Override
            public void columns(List<String> names, List<Boolean> numeric) {}

            @Override
            public void row(List<Object> values) {
              found.addAll(values);
            }

            @Override
            public void changed(long count) {}
          });
      String delete = "delete from iceberg_tables where table_namespace = '%s'";
      if (!found.isEmpty()) {
        warehouse.run(delete.formatted(drop.group(1)), taker);
      }
    } else if (create.matches()) {
      TableName name = TableName.parse(create.group(1)).orElseThrow();
      Matcher numbered = NUMBERED.matcher(create.group(2));
      NUMBERS.remove(create.group(1));
      if (numbered.find()) {
        NUMBERS.put(create.group(1), numbered.group(1));
      }
      ((LakeTables) warehouse.tables()).create(name, table(create.group(2)));
      taker.changed(0);
    } else {
      warehouse.run(numbered(sql), taker);
    }
  }

  /** An insert with numbers for the rows, where a database would number them. */
  private static String numbered(String sql) {
    Matcher insert = INSERT.matcher(sql);
    String column = insert.matches() ? NUMBERS.get(insert.group(1)) : null;
    return column == null || insert.group(2).contains(column)
        ? sql
        : "insert into %s (%s, %s) select (select coalesce(max(%s), 0) from %s)"
                .formatted(insert.group(1), column, insert.group(2), column, insert.group(1))
            + " + row_number() over (order by 1), v.* from (%s) v".formatted(insert.group(3));
  }

  private static NewTable table(String definitions) {
    List<NewColumn> columns = new ArrayList<>();
    for (String definition : definitions.split(",(?![^(]*\\))")) {
      Matcher column = COLUMN.matcher(definition);
      if (definition.strip().matches("(?s)(primary key|unique) .*") || !column.matches()) {
        continue;
      }
      SqlType type =
          SqlType.parse(column.group(2))
              .orElseThrow(() -> new IllegalArgumentException(definition));
      boolean needed = column.group(3) != null || " primary key".equals(column.group(4));
      columns.add(
          new NewColumn(column.group(1), Optional.of(type), type.toString(), needed, false));
    }
    return new NewTable(columns, List.of());
  }
}
