package dev.dusky.lake;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.warehouse.ResultTaker;
import dev.dusky.lake.engine.EngineRefusal;
import dev.dusky.lake.engine.EngineSessions;
import dev.dusky.lake.engine.EngineTurn;
import dev.dusky.warehouses.connection.Database;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import org.jdbi.v3.core.Handle;

/** One SQL statement that a person wrote, over the tables. */
final class EngineStatement {

  private static final Set<String> QUERIES = Set.of("select", "with", "values", "(", "describe");

  private final Database database;
  private final LakeTables tables;
  private final EngineSessions engine;

  EngineStatement(Database database, LakeTables tables, EngineSessions engine) {
    this.database = database;
    this.tables = tables;
    this.engine = engine;
  }

  /** Runs it in its own transaction. */
  void run(String sql, ResultTaker taker) {
    database.transact(
        "The statement",
        h -> {
          try (EngineTurn turn = engine.open(h.getConnection())) {
            run(h, turn, sql, taker);
          } catch (EngineRefusal e) {
            throw tables.failures().refused("The statement", e);
          }
          return null;
        });
  }

  private void run(Handle handle, EngineTurn turn, String sql, ResultTaker taker) {
    String first = sql.strip().toLowerCase(Locale.ROOT).split("[\\s(]", 2)[0];
    if (QUERIES.contains(first) || first.isEmpty()) {
      turn.read(sql, columns -> head(columns, taker), taker::row);
      return;
    }
    long changed = Math.abs(WholeInsert.run(turn, sql));
    if (!engine.complete(turn, handle.getConnection())) {
      throw Failure.warehouse("The statement was not done")
          .because("another process changed a table that it writes")
          .hint("Run it again. Nothing was changed");
    }
    taker.changed(changed);
  }

  private static void head(List<TableColumn> columns, ResultTaker taker) {
    taker.columns(
        columns.stream().map(TableColumn::name).toList(),
        columns.stream()
            .map(c -> c.type().filter(type -> type.kind().isNumber()).isPresent())
            .toList());
  }
}
