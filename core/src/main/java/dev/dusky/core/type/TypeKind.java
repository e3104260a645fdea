package dev.dusky.core.type;

/** The kinds of SQL type that a column may have. */
public enum TypeKind {
  BOOLEAN("boolean"),
  SMALLINT("smallint"),
  INTEGER("integer"),
  BIGINT("bigint"),
  DECIMAL("decimal"),
  REAL("real"),
  DOUBLE("double precision"),
  CHAR("char"),
  VARCHAR("varchar"),
  TEXT("text"),
  DATE("date"),
  TIME("time"),
  TIMESTAMP("timestamp"),
  TIMESTAMP_TZ("timestamp with time zone"),
  UUID("uuid"),
  JSON("json"),
  BINARY("varbinary");

  private final String sql;

  TypeKind(String sql) {
    this.sql = sql;
  }

  /** The SQL name without length or precision. */
  public String sql() {
    return sql;
  }

  /** Whether values are characters kept as they are. */
  public boolean isText() {
    return this == CHAR || this == VARCHAR || this == TEXT;
  }

  /** Whether values are whole numbers. */
  public boolean isInteger() {
    return this == SMALLINT || this == INTEGER || this == BIGINT;
  }

  /** Whether values are numbers of any kind. */
  public boolean isNumber() {
    return isInteger() || this == DECIMAL || this == REAL || this == DOUBLE;
  }

  /** Whether values are dates or times. */
  public boolean isTemporal() {
    return this == DATE || this == TIME || this == TIMESTAMP || this == TIMESTAMP_TZ;
  }
}
