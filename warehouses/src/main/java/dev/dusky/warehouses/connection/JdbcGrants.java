package dev.dusky.warehouses.connection;

import dev.dusky.core.failure.Hint;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.Grants;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/** The rights that a role needs in the warehouse, as statements to run. */
public final class JdbcGrants implements Grants {

  private static final Pattern DENIED =
      Pattern.compile("permission denied for (table|schema|view|sequence|database) \"?([^\" ]+)");

  private static final String LEDGER = "dusky";

  @Override
  public List<String> looking(String role, Collection<TableName> tables) {
    List<String> all = usage(role, tables);
    all.add("grant select on all tables in schema %s to %s".formatted(LEDGER, quote(role)));
    if (!tables.isEmpty()) {
      all.add(on("select", tables, role));
    }
    return all;
  }

  @Override
  public List<String> loading(String role, String database, Collection<TableName> landing) {
    List<String> all = usage(role, landing);
    all.add(ledger(role));
    all.add(temporary(role, database));
    all.add(on("select, insert, update, delete", landing, role));
    return all;
  }

  @Override
  public List<String> replacing(String role) {
    return List.of("grant create on schema %s to %s".formatted(LEDGER, quote(role)));
  }

  @Override
  public List<String> merging(
      String role, String database, Collection<TableName> sources, Collection<TableName> targets) {
    List<TableName> both = new ArrayList<>(sources);
    both.addAll(targets);
    List<String> all = usage(role, both);
    all.add(ledger(role));
    all.add(temporary(role, database));
    if (!sources.isEmpty()) {
      all.add(on("select", sources, role));
    }
    all.add(on("select, insert, update, delete", targets, role));
    return all;
  }

  /** The statement that grants a refused right, if the server's message names it. */
  public static Hint missing(String role, String message) {
    Matcher denied = DENIED.matcher(message);
    if (!denied.find()) {
      return Hint.of(
          "Grant the user that right, then run again. {} lists all",
          Invocation.of("probe", "--grants", "ROLE"));
    }
    String what =
        switch (denied.group(1)) {
          case "schema" -> "grant usage on schema " + quote(denied.group(2));
          case "database" -> "grant create, temporary on database " + quote(denied.group(2));
          case "sequence" -> "grant usage on sequence " + quote(denied.group(2));
          default -> "grant select, insert, update, delete on " + quote(denied.group(2));
        };
    return Hint.of(
        "Let its owner run\n  %s to %s;\n{} lists all rights that it needs"
            .formatted(what, quote(role)),
        Invocation.of("probe", "--grants", role));
  }

  private static List<String> usage(String role, Collection<TableName> tables) {
    TreeSet<String> schemas = new TreeSet<>();
    schemas.add(LEDGER);
    tables.forEach(table -> schemas.add(table.schema()));
    List<String> all = new ArrayList<>();
    all.add(
        "grant usage on schema %s to %s"
            .formatted(
                schemas.stream().map(JdbcGrants::quote).collect(Collectors.joining(", ")),
                quote(role)));
    return all;
  }

  private static String ledger(String role) {
    return "grant select, insert, update, delete on all tables in schema %s to %s"
        .formatted(LEDGER, quote(role));
  }

  private static String temporary(String role, String database) {
    return "grant temporary on database %s to %s".formatted(quote(database), quote(role));
  }

  private static String on(String rights, Collection<TableName> tables, String role) {
    return "grant %s on %s to %s"
        .formatted(
            rights,
            tables.stream().distinct().map(Identifiers::quote).collect(Collectors.joining(", ")),
            quote(role));
  }

  private static String quote(String name) {
    return name.matches("[a-z_][a-z0-9_]*") ? name : Identifiers.quote(name);
  }
}
