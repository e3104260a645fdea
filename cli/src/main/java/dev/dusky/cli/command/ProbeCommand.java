package dev.dusky.cli.command;

import dev.dusky.cli.config.Configuration;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.Style;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.table.TableName;
import dev.dusky.depots.DepotAddress;
import dev.dusky.warehouses.connection.JdbcGrants;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Supplier;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Tries every right that is needed. */
@Command(
    name = "probe",
    description = "Checks each depot and the warehouse right by right.",
    footer = {
      "",
      "Examples:",
      "  dusky probe                  check everything the configuration names",
      "  dusky probe yard             check one depot",
      "  dusky probe warehouse        check the warehouse",
      "  dusky probe --grants loader  the rights that role loader needs, as statements",
      "",
      "Writing is tried with a small file and a small table that are removed again;",
      "--read-only leaves that out."
    })
final class ProbeCommand extends DuskyCommand {

  @Parameters(
      paramLabel = "NAME",
      arity = "0..*",
      description = "Depots to check, or 'warehouse'; everything if none.")
  List<String> names = new ArrayList<>();

  @Option(names = "--read-only", description = "Do not try to write.")
  boolean readOnly;

  @Option(
      names = "--grants",
      paramLabel = "ROLE",
      description = "Print the rights that a role of PostgreSQL needs to look, load or merge.")
  String grants;

  private int failed;
  private Failure.Kind firstKind;

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      if (grants != null) {
        grants(screen, workspace.configuration());
        return 0;
      }
      Set<String> depots = workspace.configuration().depots().keySet();
      List<String> chosen = new ArrayList<>(names);
      if (chosen.isEmpty()) {
        chosen.addAll(depots);
        chosen.add("warehouse");
      }
      for (String name : chosen) {
        if (name.equals("warehouse") && !depots.contains("warehouse")) {
          String place = workspace.configuration().warehouse().toString();
          screen.line(screen.style().strong("warehouse") + "  " + place);
          tryAll(screen, name, () -> workspace.bareWarehouse().probe());
        } else {
          DepotAddress address = workspace.configuration().depot(name);
          screen.line(screen.style().strong("depot " + name) + "  " + address);
          tryAll(screen, name, () -> workspace.depot(name).probe());
        }
      }
      screen.line(
          failed == 0
              ? screen.style().good("everything passed")
              : screen.style().bad(failed == 1 ? "1 check failed" : failed + " checks failed"));
    }
    return failed == 0 ? 0 : firstKind.exitCode();
  }

  private void grants(Screen screen, Configuration configuration) {
    String database =
        configuration.warehouse().url().replaceFirst("[?].*", "").replaceFirst(".*/", "");
    Set<TableName> landing = new LinkedHashSet<>();
    configuration.feeds().values().forEach(feed -> landing.add(feed.into()));
    Set<TableName> sources = new LinkedHashSet<>();
    Set<TableName> targets = new LinkedHashSet<>();
    for (Merge merge : configuration.merges().values()) {
      if (merge.source() instanceof MergeSource.Landing from) {
        sources.add(from.table());
      }
      targets.add(merge.into());
      merge.lookups().forEach(lookup -> targets.add(lookup.table()));
    }
    Set<TableName> all = new LinkedHashSet<>(landing);
    all.addAll(sources);
    all.addAll(targets);
    grants(screen, "to look", JdbcGrants.looking(grants, all));
    if (!landing.isEmpty()) {
      grants(screen, "to load", JdbcGrants.loading(grants, database, landing));
    }
    if (!targets.isEmpty()) {
      grants(screen, "to merge", JdbcGrants.merging(grants, database, sources, targets));
    }
  }

  private void grants(Screen screen, String purpose, List<String> statements) {
    screen.line("-- " + purpose);
    for (String statement : statements) {
      screen.line(statement + ";");
      Map<String, Object> fields = new LinkedHashMap<>();
      fields.put("purpose", purpose);
      fields.put("statement", statement);
      screen.object(fields);
    }
  }

  private void tryAll(Screen screen, String name, Supplier<List<ProbeStep>> steps) {
    List<ProbeStep> all;
    try {
      all = steps.get();
    } catch (RuntimeException e) {
      fail(screen, name, "connect", e);
      return;
    }
    boolean broken = false;
    for (ProbeStep step : all) {
      if (readOnly && step.name().equals("write")) {
        continue;
      }
      if (broken) {
        show(screen, name, step.name(), "not tried", "");
        continue;
      }
      try {
        ProbeStep.Finding finding = step.attempt().run();
        show(screen, name, step.name(), finding.tried() ? "passed" : "not tried", finding.remark());
      } catch (RuntimeException e) {
        fail(screen, name, step.name(), e);
        // Without reaching the place or naming oneself nothing else can work; rights stand alone.
        broken = step.name().equals("resolve") || step.name().equals("connect");
      }
    }
  }

  /** Nothing that goes wrong in one place keeps the others from being tried. */
  private void fail(Screen screen, String name, String step, RuntimeException e) {
    Failure failure =
        e instanceof Failure known
            ? known
            : Failure.of(Failure.Kind.UNEXPECTED, "This check met an unexpected error")
                .because(String.valueOf(e))
                .next("Run 'dusky probe %s --debug' to see where".formatted(name));
    if (debug) {
      e.printStackTrace();
    }
    show(screen, name, step, "failed", failure.getMessage());
    failed++;
    firstKind = firstKind == null ? failure.kind() : firstKind;
  }

  private static void show(Screen screen, String name, String step, String verdict, String remark) {
    Style style = screen.style();
    screen.line(
        "  %-9s %s  %s"
            .formatted(step, style.state("%-9s".formatted(verdict)), remark)
            .stripTrailing());
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("name", name);
    fields.put("check", step);
    fields.put("verdict", verdict);
    fields.put("remark", remark);
    screen.object(fields);
  }
}
