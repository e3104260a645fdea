package dev.dusky.engine;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Iterator;
import java.util.List;
import java.util.Locale;
import java.util.function.Consumer;
import org.apache.iceberg.catalog.TableIdentifier;
import org.apache.spark.sql.Column;
import org.apache.spark.sql.Dataset;
import org.apache.spark.sql.Row;
import org.apache.spark.sql.RowFactory;
import org.apache.spark.sql.SparkSession;
import org.apache.spark.sql.functions;
import org.apache.spark.sql.types.DataTypes;
import org.apache.spark.sql.types.StructField;
import org.apache.spark.sql.types.StructType;

/** Does what requests ask for, one after the other. */
final class Statements {

  private final SparkSession session;
  private final ObjectMapper json;

  Statements(SparkSession session, ObjectMapper json) {
    this.session = session;
    this.json = json;
  }

  /**
   * Does one thing.
   *
   * @param rows receives each row that it reads
   * @return the end of the answer
   */
  ObjectNode run(JsonNode request, Consumer<ObjectNode> rows) throws Exception {
    ObjectNode answer = json.createObjectNode();
    String what = request.path("do").asText();
    switch (what) {
      case "store" -> reach(request);
      case "begin" -> begin(request);
      case "tables" -> give(request.path("tables"));
      case "fill" -> fill(request);
      case "make" -> make(request, answer);
      case "run" -> {
        WorkingPointers.HERE.added();
        session.sql(request.path("sql").asText());
        answer.put("rows", WorkingPointers.HERE.added());
      }
      case "read" -> read(session.sql(request.path("query").asText()), answer, rows);
      case "shape" -> columns(session.sql(request.path("query").asText()).schema(), answer);
      case "attempt" -> Attempts.run(session, request, json.createObjectNode(), rows);
      case "end" -> end(answer);
      case "undo" -> {
        WorkingPointers.HERE.changes().values().forEach(c -> Leftovers.undo(c[0], c[1]));
        forget();
      }
      default -> throw new IllegalArgumentException("unknown request: " + what);
    }
    return answer;
  }

  private void reach(JsonNode request) {
    WorkingPointers.HERE.files(
        new ProgramFiles(
            Program.on(session.sparkContext(), Attempts.texts(request.path("classes"))),
            request.path("worker").asText(),
            Base64.getDecoder().decode(request.path("order").asText()),
            request.path("at").asText()));
  }

  private void begin(JsonNode request) {
    String scratch = request.path("scratch").asText();
    WorkingPointers.HERE.clear(scratch);
    give(request.path("tables"));
    session.catalog().setCurrentDatabase(scratch);
  }

  private static void give(JsonNode tables) {
    tables
        .fields()
        .forEachRemaining(
            table ->
                WorkingPointers.HERE.give(
                    TableIdentifier.parse(table.getKey()), table.getValue().asText()));
  }

  private void fill(JsonNode request) throws Exception {
    List<StructField> fields = new ArrayList<>();
    List<Column> typed = new ArrayList<>();
    for (JsonNode column : request.path("columns")) {
      String name = column.path(0).asText();
      fields.add(DataTypes.createStructField(name, DataTypes.StringType, true));
      typed.add(functions.col(name).cast(column.path(1).asText()).as(name));
    }
    List<Row> values = new ArrayList<>();
    for (JsonNode row : request.path("rows")) {
      List<Object> cells = new ArrayList<>();
      row.forEach(cell -> cells.add(cell.isNull() ? null : cell.asText()));
      values.add(RowFactory.create(cells.toArray()));
    }
    StructType shape = DataTypes.createStructType(fields);
    String table = request.path("table").asText();
    WorkingPointers.HERE.drop(TableIdentifier.parse(table));
    session
        .createDataFrame(values, shape)
        .select(typed.toArray(new Column[0]))
        .writeTo(table)
        .using("iceberg")
        .create();
  }

  private void make(JsonNode request, ObjectNode answer) throws Exception {
    String table = request.path("table").asText();
    WorkingPointers.HERE.drop(TableIdentifier.parse(table));
    WorkingPointers.HERE.added();
    session.sql(request.path("query").asText()).writeTo(table).using("iceberg").create();
    answer.put("rows", WorkingPointers.HERE.added());
  }

  private void columns(StructType shape, ObjectNode answer) {
    ArrayNode columns = answer.putArray("columns");
    for (StructField field : shape.fields()) {
      String type = field.dataType().sql();
      boolean scalar = type.indexOf('<') < 0; // names of members keep their case
      columns.addArray().add(field.name()).add(scalar ? type.toLowerCase(Locale.ROOT) : type);
    }
  }

  private void read(Dataset<Row> result, ObjectNode answer, Consumer<ObjectNode> rows) {
    columns(result.schema(), answer);
    ObjectNode head = answer.deepCopy();
    rows.accept(head);
    long count = 0;
    for (Iterator<Row> all = result.toLocalIterator(); all.hasNext(); count++) {
      Row row = all.next();
      ObjectNode line = json.createObjectNode();
      ArrayNode values = line.putArray("row");
      for (int i = 0; i < row.size(); i++) {
        Values.add(values, row.get(i));
      }
      rows.accept(line);
    }
    answer.remove("columns");
    answer.put("rows", count);
  }

  private void end(ObjectNode answer) {
    ObjectNode tables = answer.putObject("tables");
    WorkingPointers.HERE
        .changes()
        .forEach((table, moved) -> tables.putArray(table).add(moved[0]).add(moved[1]));
    forget();
  }

  private void forget() {
    Leftovers.drop(WorkingPointers.HERE.made());
    WorkingPointers.HERE.clear("");
  }
}
