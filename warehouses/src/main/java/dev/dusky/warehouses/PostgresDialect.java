package dev.dusky.warehouses;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.warehouse.RowWriter;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Locale;
import java.util.Optional;
import java.util.Properties;
import org.postgresql.Driver;

/** PostgreSQL, with rows sent through its COPY protocol in binary form. */
final class PostgresDialect implements Dialect {

  /** An arbitrary number that names our migrations among the server's advisory locks. */
  private static final long MIGRATION_LOCK = 7_226_384_418_301L;

  @Override
  public Connection connect(WarehouseAddress address) throws SQLException {
    Properties properties = new Properties();
    address.user().ifPresent(user -> properties.setProperty("user", user));
    address.password().ifPresent(word -> properties.setProperty("password", word.reveal()));
    properties.setProperty("ApplicationName", "dusky");
    properties.setProperty("tcpKeepAlive", "true");
    properties.setProperty("connectTimeout", "10");
    properties.setProperty("reWriteBatchedInserts", "true");
    Connection connection = new Driver().connect(address.url(), properties);
    connection.setAutoCommit(false);
    return connection;
  }

  @Override
  public String typeName(SqlType type) {
    return switch (type.kind()) {
      case DECIMAL -> "numeric(" + type.precision() + "," + type.scale() + ")";
      case BINARY -> "bytea";
      default -> type.toString();
    };
  }

  @Override
  public Optional<SqlType> typeOf(String dataType, int length, int precision, int scale) {
    return switch (dataType.toLowerCase(Locale.ROOT)) {
      case "character varying" -> Optional.of(SqlType.of(TypeKind.VARCHAR, length));
      case "character" -> Optional.of(SqlType.of(TypeKind.CHAR, length));
      case "numeric" -> Optional.of(SqlType.decimal(precision, scale));
      case "time without time zone" -> Optional.of(SqlType.of(TypeKind.TIME));
      case "jsonb" -> Optional.of(SqlType.of(TypeKind.JSON));
      default -> SqlType.parse(dataType);
    };
  }

  @Override
  public String bytesType() {
    return "bytea";
  }

  @Override
  public String textType() {
    return "text";
  }

  /** Leaves foreign keys free to refer to the row while it is claimed. */
  @Override
  public String claimClause() {
    return "for no key update skip locked";
  }

  @Override
  public void serialiseMigrations(Connection connection) throws SQLException {
    try (Statement statement = connection.createStatement()) {
      statement.execute("select pg_advisory_xact_lock(" + MIGRATION_LOCK + ")");
    }
  }

  @Override
  public RowWriter writer(Posting posting) throws SQLException {
    return new CopyWriter(posting);
  }

  @Override
  public boolean isLost(SQLException e) {
    return false; // a broken connection answers at once
  }

  @Override
  public Optional<Failure> explain(WarehouseAddress address, String doing, SQLException e) {
    return "3D000".equals(e.getSQLState())
        ? Optional.of(
            Failure.warehouse("The warehouse " + address.url() + " has no such database")
                .because(SqlFailures.firstLine(e))
                .next("Create the database, or correct the URL in the configuration"))
        : Optional.empty();
  }
}
