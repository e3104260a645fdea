package dev.dusky.warehouses.postgres;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.warehouses.connection.Dialect;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.connection.JdbcGrants;
import dev.dusky.warehouses.connection.RuleCatalogue;
import dev.dusky.warehouses.connection.SqlFailures;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Properties;
import org.postgresql.Driver;

/** PostgreSQL, with rows sent through its COPY protocol in binary form. */
public final class PostgresDialect implements Dialect {

  /** The work memory of a merge for each landed row, and its maximum. */
  private static final long SORT_BYTES_PER_ROW = 256;

  private static final long MOST_SORT_BYTES = 256L << 20;

  /** An arbitrary number that names our migrations among the server's advisory locks. */
  private static final long MIGRATION_LOCK = 7_226_384_418_301L;

  /** An arbitrary number that names the moments in which loads begin. */
  private static final long START_LOCK = 7_226_384_418_302L;

  /** The first half of the locks on landing tables. */
  private static final int LANDING_LOCK = 0x6475736b;

  /** The first half of the locks on the contents of a feed's files. */
  private static final int CONTENTS_LOCK = 0x6475736c;

  /** Whether a table has an index or a trigger by which one transaction waits for another. */
  private static final String DEPENDENT =
      """
      with landing as (
        select t.oid from pg_class t join pg_namespace n on n.oid = t.relnamespace
        where n.nspname = ? and t.relname = ?)
      select exists (select 1 from pg_index i join landing on i.indrelid = landing.oid
                     where i.indisunique or i.indisexclusion)
          or exists (select 1 from pg_trigger g join landing on g.tgrelid = landing.oid
                     where not g.tgisinternal)""";

  /**
   * Not null columns, checks of the table and of its columns' domains, keys (plain unique indexes
   * too), and references that take null in any column for no reference.
   */
  private static final String RULES =
      """
      with landing as (
        select t.oid from pg_class t join pg_namespace n on n.oid = t.relnamespace
        where n.nspname = ? and t.relname = ?)
      select 'n', a.attname || ' not null', array[a.attname::text], null, null, null, null
      from pg_attribute a join landing on a.attrelid = landing.oid
      where a.attnum > 0 and a.attnotnull and not a.attisdropped
      union all
      select case c.contype when 'c' then 'c' when 'f' then 'r' else 'k' end, c.conname,
        (select array_agg(a.attname::text order by k.place)
         from unnest(c.conkey) with ordinality k(number, place)
         join pg_attribute a on a.attrelid = c.conrelid and a.attnum = k.number),
        case when c.contype = 'c' then pg_get_expr(c.conbin, c.conrelid) end,
        n.nspname, t.relname,
        (select array_agg(a.attname::text order by k.place)
         from unnest(c.confkey) with ordinality k(number, place)
         join pg_attribute a on a.attrelid = c.confrelid and a.attnum = k.number)
      from pg_constraint c join landing on c.conrelid = landing.oid
      left join pg_class t on t.oid = c.confrelid
      left join pg_namespace n on n.oid = t.relnamespace
      where c.contype in ('c', 'p', 'u') or c.contype = 'f' and c.confmatchtype = 's'
      union all
      select 'c', c.conname, array[a.attname::text],
        regexp_replace(pg_get_expr(c.conbin, 0), '\\mVALUE\\M', quote_ident(a.attname), 'g'),
        null, null, null
      from pg_attribute a join landing on a.attrelid = landing.oid
      join pg_constraint c on c.contypid = a.atttypid and c.contype = 'c'
      where a.attnum > 0 and not a.attisdropped
      union all
      select 'k', t.relname,
        (select array_agg(a.attname::text order by k.place)
         from unnest(i.indkey::smallint[]) with ordinality k(number, place)
         join pg_attribute a on a.attrelid = i.indrelid and a.attnum = k.number),
        null, null, null, null
      from pg_index i join landing on i.indrelid = landing.oid join pg_class t on t.oid = i.indexrelid
      where i.indisunique and i.indpred is null and i.indexprs is null
        and not exists (select 1 from pg_constraint c where c.conindid = i.indexrelid)""";

  @Override
  public Connection connect(DatabaseSettings address) throws SQLException {
    Properties properties = new Properties();
    address.user().ifPresent(user -> properties.setProperty("user", user));
    address.password().ifPresent(word -> properties.setProperty("password", word.reveal()));
    properties.setProperty("ApplicationName", "dusky");
    properties.setProperty("tcpKeepAlive", "true");
    properties.setProperty("connectTimeout", "10");
    properties.setProperty("reWriteBatchedInserts", "true");
    Connection connection = new Driver().connect(address.url(), properties);
    try (Statement statement = connection.createStatement()) {
      // A load's lock and its claims are held while files are read, however long that takes.
      statement.execute("set idle_in_transaction_session_timeout = 0");
    }
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
      case "character varying", "varchar" -> Optional.of(SqlType.of(TypeKind.VARCHAR, length));
      case "int2" -> Optional.of(SqlType.of(TypeKind.SMALLINT));
      case "int4" -> Optional.of(SqlType.of(TypeKind.INTEGER));
      case "int8", "bigserial" -> Optional.of(SqlType.of(TypeKind.BIGINT));
      case "bool" -> Optional.of(SqlType.of(TypeKind.BOOLEAN));
      case "float4" -> Optional.of(SqlType.of(TypeKind.REAL));
      case "float8" -> Optional.of(SqlType.of(TypeKind.DOUBLE));
      case "timestamptz" -> Optional.of(SqlType.of(TypeKind.TIMESTAMP_TZ));
      case "character", "bpchar" -> Optional.of(SqlType.of(TypeKind.CHAR, length));
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

  /** The catalogue shows to everybody what the information schema shows to few. */
  @Override
  public String existence() {
    return "select 1 from pg_class c join pg_namespace n on n.oid = c.relnamespace"
        + " where n.nspname = ? and c.relname = ? and c.relkind in ('r', 'p', 'v', 'm', 'f')";
  }

  @Override
  public void alone(Connection connection, Change work) throws SQLException {
    lockStarts(connection, "pg_advisory_lock");
    try {
      work.run();
    } catch (SQLException | RuntimeException e) {
      try {
        connection.rollback();
        lockStarts(connection, "pg_advisory_unlock");
      } catch (SQLException again) {
        e.addSuppressed(again); // the connection is gone, and the lock with it
      }
      throw e;
    }
    lockStarts(connection, "pg_advisory_unlock");
  }

  private static void lockStarts(Connection connection, String function) throws SQLException {
    try (Statement statement = connection.createStatement()) {
      statement.execute("select %s(%d)".formatted(function, START_LOCK));
    }
  }

  @Override
  public String livePosting() {
    return "create unique index tally_live on dusky.tally (file_id)"
        + " where reversed_by is null and state in ('posted', 'twin');";
  }

  @Override
  public String pathIndex() {
    return "create index file_path on dusky.file (feed, path collate \"C\");";
  }

  @Override
  public String pathOrder() {
    return "path collate \"C\"";
  }

  @Override
  public String pathFrom() {
    return "path collate \"C\" >= :path";
  }

  /** Leaves foreign keys free to refer to the row while it is claimed. */
  @Override
  public String claimClause() {
    return "for no key update skip locked";
  }

  @Override
  public boolean mayWrite(Connection connection, TableName table) throws SQLException {
    String sql =
        "select current_setting('transaction_read_only') = 'off'"
            + " and has_table_privilege(?, 'insert') and has_table_privilege(?, 'delete')";
    try (PreparedStatement query = connection.prepareStatement(sql)) {
      query.setString(1, Identifiers.quote(table));
      query.setString(2, Identifiers.quote(table));
      try (ResultSet row = query.executeQuery()) {
        return row.next() && row.getBoolean(1);
      }
    }
  }

  @Override
  public void serialiseMigrations(Connection connection) throws SQLException {
    try (Statement statement = connection.createStatement()) {
      statement.execute("select pg_advisory_xact_lock(" + MIGRATION_LOCK + ")");
    }
  }

  @Override
  public void holdLanding(Connection connection, TableName table) throws SQLException {
    hold(connection, LANDING_LOCK, table.toString());
  }

  @Override
  public void lockTable(Connection connection, TableName table) throws SQLException {
    try (Statement statement = connection.createStatement()) {
      statement.execute("lock table " + Identifiers.quote(table) + " in share row exclusive mode");
    }
  }

  @Override
  public void holdContents(Connection connection, String feed) throws SQLException {
    hold(connection, CONTENTS_LOCK, feed);
  }

  /** Takes a lock that lasts as long as the transaction. */
  private static void hold(Connection connection, int kind, String what) throws SQLException {
    try (PreparedStatement statement =
        connection.prepareStatement("select pg_advisory_xact_lock(?, hashtext(?))")) {
      statement.setInt(1, kind);
      statement.setString(2, what);
      statement.execute();
    }
  }

  @Override
  public boolean independent(Connection connection, TableName table) throws SQLException {
    try (PreparedStatement query = connection.prepareStatement(DEPENDENT)) {
      query.setString(1, table.schema());
      query.setString(2, table.table());
      try (ResultSet row = query.executeQuery()) {
        row.next();
        return !row.getBoolean(1);
      }
    }
  }

  @Override
  public List<TableRule> rules(Connection connection, TableName table) throws SQLException {
    return RuleCatalogue.read(connection, RULES, table);
  }

  @Override
  public String makeScratch(String definition) {
    return "create temporary table if not exists " + definition + " on commit drop";
  }

  @Override
  public String makeScratch(String name, String query) {
    return "create temporary table " + name + " on commit drop as\n" + query;
  }

  @Override
  public Optional<String> countScratch(String name) {
    return Optional.of("analyze " + name);
  }

  /**
   * A hash join gives rows in the order of hashes, and pages are fetched and written many times.
   */
  @Override
  public boolean returnsMerged(Connection connection) throws SQLException {
    return connection.getMetaData().getDatabaseMajorVersion() >= 17;
  }

  @Override
  public boolean returnsReplaced(Connection connection) throws SQLException {
    return connection.getMetaData().getDatabaseMajorVersion() >= 18;
  }

  @Override
  public List<String> mergeInOrder(boolean alone) {
    return alone ? List.of("set local enable_hashjoin = off") : List.of();
  }

  @Override
  public List<String> sortMemory(long rows) {
    long bytes = Math.min(MOST_SORT_BYTES, rows * SORT_BYTES_PER_ROW);
    return List.of(
        ("select set_config('work_mem', greatest(pg_size_bytes(current_setting('work_mem')), %d)"
                + " / 1024 || 'kB', true)")
            .formatted(bytes));
  }

  @Override
  public List<String> writeInOrder(boolean unique) {
    String hash = "set local enable_hashjoin = off";
    return unique ? List.of(hash, "set local enable_mergejoin = off") : List.of(hash);
  }

  @Override
  public String aboutRows() {
    return "select greatest(t.reltuples, 0) from pg_class t"
        + " join pg_namespace n on n.oid = t.relnamespace"
        + " where n.nspname = :schema and t.relname = :table";
  }

  @Override
  public String indexes() {
    return """
        select i.indexrelid, a.attname
        from pg_index i
        join pg_class t on t.oid = i.indrelid
        join pg_namespace n on n.oid = t.relnamespace
        cross join lateral unnest(i.indkey) with ordinality as k(attnum, place)
        join pg_attribute a on a.attrelid = t.oid and a.attnum = k.attnum
        where n.nspname = :schema and t.relname = :table and i.indpred is null
        order by i.indexrelid, k.place""";
  }

  @Override
  public String emptyScratch(String name) {
    return "truncate table " + name + " restart identity";
  }

  @Override
  public String lookup(String table, String match) {
    return "%s l where %s offset 0".formatted(table, match);
  }

  @Override
  public String joinByLookup(String table, String match) {
    return "cross join lateral (select * from %s) l".formatted(lookup(table, match));
  }

  @Override
  public String scratchType(TableColumn column) {
    return column.typeText().equals("jsonb") ? "jsonb" : typeName(column.type().orElseThrow());
  }

  @Override
  public void checkAtOnce(Connection connection) throws SQLException {
    try (Statement statement = connection.createStatement()) {
      statement.execute("set constraints all immediate");
    }
  }

  @Override
  public boolean isLost(SQLException e) {
    return false; // a broken connection answers immediately
  }

  @Override
  public Optional<Failure> explain(DatabaseSettings address, String doing, SQLException e) {
    String state = String.valueOf(e.getSQLState());
    if (state.equals("3D000")) {
      return Optional.of(
          Failure.warehouse("The warehouse " + address.url() + " has no such database")
              .because(SqlFailures.firstLine(e))
              .hint("Create the database, or correct the URL in the configuration"));
    }
    if (state.equals("42501")) {
      return Optional.of(
          Failure.warehouse(doing + " failed: the user lacks a right")
              .because(SqlFailures.firstLine(e))
              .hint(JdbcGrants.missing(address.user().orElse("USER"), SqlFailures.firstLine(e))));
    }
    if (state.equals("25006")) {
      return Optional.of(
          Failure.warehouse(doing + " failed: the warehouse is read-only")
              .because(SqlFailures.firstLine(e))
              .hint("It may be a standby, or set to read only; use the primary server for that"));
    }
    return Optional.empty();
  }
}
