package dev.dusky.lake.engine;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Consumer;

/**
 * One use of the engine. Its statements are standard SQL; they see the tables as they were given,
 * with what earlier statements of the turn changed. Nobody else sees those changes.
 */
public final class EngineTurn implements AutoCloseable {

  private final Engine engine;
  private final String scratch =
      "dusky_scratch_" + UUID.randomUUID().toString().replace("-", "").substring(0, 12);
  private boolean ended;

  EngineTurn(Engine engine) {
    this.engine = engine;
  }

  private JsonNode ask(ObjectNode request) {
    return engine.ask(request, row -> {});
  }

  /** Begins with these tables, each with the location of its metadata. */
  void begin(Map<TableName, String> tables) {
    ObjectNode request = Engine.request("begin").put("scratch", scratch);
    put(request, tables);
    ask(request);
  }

  /** Tables that may have changed since; those that this turn changed stay as they are. */
  public void give(Map<TableName, String> tables) {
    ObjectNode request = Engine.request("tables");
    put(request, tables);
    ask(request);
  }

  private static void put(ObjectNode request, Map<TableName, String> tables) {
    ObjectNode all = request.putObject("tables");
    tables.forEach((name, metadata) -> all.put(name.toString(), metadata));
  }

  /**
   * Makes a small table of given rows.
   *
   * @param table its name; without a schema it is a scratch table
   * @param columns its columns with their types
   * @param rows the values as texts, null for none
   */
  public void fill(String table, Map<String, SqlType> columns, List<List<String>> rows) {
    ObjectNode request = Engine.request("fill").put("table", qualified(table));
    ArrayNode names = request.putArray("columns");
    columns.forEach((name, type) -> names.addArray().add(name).add(EngineTypes.name(type)));
    ArrayNode values = request.putArray("rows");
    for (List<String> row : rows) {
      ArrayNode cells = values.addArray();
      row.forEach(cells::add);
    }
    ask(request);
  }

  private String qualified(String table) {
    return table.contains(".") ? table : scratch + "." + table;
  }

  /** Makes a scratch table of a query's rows; returns how many they are. */
  public long make(String table, String query) {
    ObjectNode request = Engine.request("make").put("table", qualified(table));
    return ask(request.put("query", EngineSql.of(query))).path("rows").asLong();
  }

  /** Runs a statement; returns how many rows the tables have more than before. */
  public long run(String sql) {
    return ask(Engine.request("run").put("sql", EngineSql.of(sql))).path("rows").asLong();
  }

  /** The columns that a query gives. */
  public List<TableColumn> shape(String query) {
    JsonNode answer = ask(Engine.request("shape").put("query", EngineSql.of(query)));
    return columns(answer.path("columns"));
  }

  private static List<TableColumn> columns(JsonNode given) {
    List<TableColumn> columns = new ArrayList<>();
    for (JsonNode column : given) {
      String type = column.path(1).asText();
      Optional<SqlType> known = EngineTypes.type(type);
      columns.add(
          new TableColumn(
              column.path(0).asText(),
              known,
              known.map(SqlType::toString).orElse(type),
              false,
              false));
    }
    return columns;
  }

  /** Hands the columns of a query over, and then each row: null, numbers, truth values, texts. */
  public void read(String query, Consumer<List<TableColumn>> head, Consumer<List<Object>> row) {
    List<TableColumn> columns = new ArrayList<>();
    engine.ask(
        Engine.request("read").put("query", EngineSql.of(query)),
        line -> {
          if (line.has("columns")) {
            columns.addAll(columns(line.path("columns")));
            head.accept(columns);
          } else {
            row.accept(values(line.path("row"), columns));
          }
        });
  }

  private static List<Object> values(JsonNode row, List<TableColumn> columns) {
    List<Object> values = new ArrayList<>();
    for (int i = 0; i < columns.size(); i++) {
      values.add(value(row.path(i), columns.get(i)));
    }
    return values;
  }

  private static Object value(JsonNode value, TableColumn column) {
    if (value.isNull()) {
      return null;
    }
    if (value.isBoolean()) {
      return value.booleanValue();
    }
    if (!value.isNumber()) {
      return value.asText();
    }
    return switch (column.type().map(SqlType::kind).orElse(TypeKind.DECIMAL)) {
      case SMALLINT, INTEGER -> value.intValue();
      case BIGINT -> value.longValue();
      case REAL -> value.floatValue();
      case DOUBLE -> value.doubleValue();
      default -> value.decimalValue();
    };
  }

  /**
   * Where the metadata of a table was and is.
   *
   * @param from its location before the turn, if the table was there
   * @param to its location behind it, if the table is there
   */
  record Moved(Optional<String> from, Optional<String> to) {}

  /** Ends it; the tables that it changed. */
  Map<TableName, Moved> end() {
    ended = true;
    Map<TableName, Moved> changed = new LinkedHashMap<>();
    ask(Engine.request("end"))
        .path("tables")
        .fields()
        .forEachRemaining(
            table ->
                changed.put(
                    TableName.parse(table.getKey()).orElseThrow(),
                    new Moved(place(table.getValue(), 0), place(table.getValue(), 1))));
    return changed;
  }

  private static Optional<String> place(JsonNode places, int which) {
    return Optional.of(places.path(which)).filter(JsonNode::isTextual).map(JsonNode::asText);
  }

  /** Ends it, and removes what it changed. */
  @Override
  public void close() {
    try {
      if (!ended && engine.alive()) {
        ask(Engine.request("undo"));
      }
    } finally {
      engine.release();
    }
  }
}
