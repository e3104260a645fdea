package dev.dusky.warehouses.connection;

import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/** Reads a table's rules from the database's catalogue. What it cannot express it leaves out. */
public final class RuleCatalogue {

  private RuleCatalogue() {}

  /**
   * The rules that a query gives, a row each: kind (n, c, k or r), name, its columns as an array,
   * condition, schema and table referred to, and the columns there as an array.
   */
  public static List<TableRule> read(Connection connection, String sql, TableName table)
      throws SQLException {
    List<TableRule> rules = new ArrayList<>();
    try (PreparedStatement query = connection.prepareStatement(sql)) {
      for (int i = 1; i <= query.getParameterMetaData().getParameterCount(); i += 2) {
        query.setString(i, table.schema());
        query.setString(i + 1, table.table());
      }
      try (ResultSet row = query.executeQuery()) {
        while (row.next()) {
          String name = row.getString(2);
          List<String> columns = texts(row, 3);
          rules.add(
              switch (row.getString(1)) {
                case "n" -> new TableRule.NotNull(name, columns);
                case "c" -> new TableRule.Check(name, columns, row.getString(4));
                case "k" -> new TableRule.Key(name, columns);
                default ->
                    new TableRule.Reference(
                        name,
                        columns,
                        new TableName(row.getString(5), row.getString(6)),
                        texts(row, 7));
              });
        }
      }
    }
    return rules;
  }

  private static List<String> texts(ResultSet row, int column) throws SQLException {
    List<String> texts = new ArrayList<>();
    if (row.getArray(column) != null) {
      for (Object text : (Object[]) row.getArray(column).getArray()) {
        texts.add(String.valueOf(text));
      }
    }
    return texts;
  }
}
