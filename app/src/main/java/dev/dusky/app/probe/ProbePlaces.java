package dev.dusky.app.probe;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.probe.DepotProbe;
import dev.dusky.depots.address.DepotAddress;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;

/** Tries every right that depots and warehouse need. */
public final class ProbePlaces {

  /** Without these nothing else can work; all other rights are independent. */
  private static final Set<String> FIRST = Set.of("resolve", "connect", "credentials");

  private static final String WAREHOUSE = "warehouse";

  /** Follows the checks. */
  public interface Listener {

    /** The checks of a place begin, with these names. */
    void place(String name, String title, String address, List<String> steps);

    /** A check passed, or was not tried. */
    void passed(String name, String step, boolean tried, String remark);

    /** A check failed. */
    void failed(String name, String step, Failure failure);

    /** A check failed for the cause of an earlier one. */
    void failedAgain(String name, String step, String earlier, Failure failure);
  }

  private final Workspace workspace;
  private final boolean readOnly;
  private final Listener listener;
  private final Map<String, String> causes = new HashMap<>();
  private int failures;
  private Optional<Failure.Kind> first = Optional.empty();

  /**
   * Checks in that workspace.
   *
   * @param readOnly whether writing is left out
   */
  public ProbePlaces(Workspace workspace, boolean readOnly, Listener listener) {
    this.workspace = workspace;
    this.readOnly = readOnly;
    this.listener = listener;
  }

  /** Checks depots, and the warehouse by its name, or everything if there are no names. */
  public void run(List<String> names) {
    Set<String> depots = workspace.configuration().depots().keySet();
    List<String> chosen = new ArrayList<>(names);
    if (chosen.isEmpty()) {
      chosen.addAll(depots);
      chosen.add(WAREHOUSE);
    }
    for (String name : chosen) {
      if (name.equals(WAREHOUSE) && !depots.contains(WAREHOUSE)) {
        String address = workspace.configuration().warehouse().toString();
        tryAll(name, WAREHOUSE, address, this::warehouse);
      } else {
        DepotAddress address = workspace.configuration().depot(name);
        tryAll(name, "depot " + name, address.toString(), () -> depot(address));
      }
    }
  }

  private List<ProbeStep> depot(DepotAddress address) {
    return new DepotProbe(
            workspace.depot(address.name()),
            DepotUses.of(workspace.configuration(), address),
            address.writable())
        .steps();
  }

  private List<ProbeStep> warehouse() {
    List<ProbeStep> steps = new ArrayList<>(workspace.bareWarehouse().probe());
    for (Feed feed : workspace.configuration().feeds().values()) {
      steps.addAll(workspace.bareWarehouse().probe(feed));
    }
    return steps;
  }

  /** How many checks failed. */
  public int failures() {
    return failures;
  }

  /** The kind of the first failure. */
  public Optional<Failure.Kind> firstKind() {
    return first;
  }

  private void tryAll(String name, String title, String address, Supplier<List<ProbeStep>> steps) {
    List<ProbeStep> all;
    try {
      all = steps.get();
    } catch (RuntimeException e) {
      listener.place(name, title, address, List.of("connect"));
      fail(name, "connect", e);
      return;
    }
    listener.place(name, title, address, all.stream().map(ProbeStep::name).toList());
    boolean broken = false;
    for (ProbeStep step : all) {
      if (readOnly && DepotProbe.writes(step)) {
        continue;
      }
      if (broken) {
        listener.passed(name, step.name(), false, "");
        continue;
      }
      try {
        ProbeStep.Finding finding = step.attempt().run();
        listener.passed(name, step.name(), finding.tried(), finding.remark());
      } catch (RuntimeException e) {
        fail(name, step.name(), e);
        broken = FIRST.contains(step.name());
      }
    }
  }

  /** A failure in one place never keeps the others from being tried. */
  private void fail(String name, String step, RuntimeException e) {
    Failure failure =
        e instanceof Failure known
            ? known
            : Failure.of(Failure.Kind.UNEXPECTED, "This check met an unexpected error")
                .because(String.valueOf(e))
                .hint("Run {} to see where", Invocation.of("probe", name, "--debug"))
                .from(e);
    failures++;
    first = first.or(() -> Optional.of(failure.kind()));
    String cause = failure.what() + failure.hint().words(Invocation::toString);
    String before = causes.putIfAbsent(cause, step);
    if (before == null) {
      listener.failed(name, step, failure);
    } else {
      listener.failedAgain(name, step, before, failure);
    }
  }
}
