package dev.dusky.warehouses.connection;

import dev.dusky.core.usage.Meter;
import java.sql.SQLException;
import java.time.temporal.ChronoUnit;
import org.jdbi.v3.core.statement.SqlLogger;
import org.jdbi.v3.core.statement.StatementContext;

/** Counts the time of statements for the meter of the thread that runs them. */
final class StatementTime implements SqlLogger {

  @Override
  public void logAfterExecution(StatementContext context) {
    Meter.current().ifPresent(meter -> meter.database(context.getElapsedTime(ChronoUnit.NANOS)));
  }

  @Override
  public void logException(StatementContext context, SQLException e) {
    logAfterExecution(context);
  }
}
