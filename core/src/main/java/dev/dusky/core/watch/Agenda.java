package dev.dusky.core.watch;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.random.RandomGenerator;

/**
 * A schedule of tasks. Each task comes again after its interval, immediately when it is woken, and
 * later and later while it fails; it never runs twice at a time. Times are nanoseconds of a clock
 * that never jumps, such as {@link System#nanoTime}. Safe for use by several threads.
 */
public final class Agenda {

  /**
   * The share of an interval by which each turn comes earlier or later, so that many spread out.
   */
  static final double JITTER = 0.1;

  /**
   * A task whose turn it is.
   *
   * @param task its name
   * @param regular whether its interval is over; if not, it was only woken
   */
  public record Turn(String task, boolean regular) {}

  private static final class State {
    private final Optional<Duration> interval;
    private long regularAt;
    private long notBefore;
    private boolean woken;
    private boolean running;
    private boolean over;
    private int failures;

    State(Optional<Duration> interval, long now) {
      this.interval = interval;
      this.regularAt = now;
      this.notBefore = now;
    }

    boolean regular(long now) {
      return !over && interval.isPresent() && now - regularAt >= 0;
    }

    boolean due(long now) {
      return !running && (woken || regular(now)) && now - notBefore >= 0;
    }
  }

  private final Backoff backoff;
  private final RandomGenerator random;
  private final boolean once;
  private final Map<String, State> states = new LinkedHashMap<>();

  /** An empty agenda. */
  public Agenda(Backoff backoff, RandomGenerator random) {
    this(backoff, random, false);
  }

  /**
   * An empty agenda.
   *
   * @param once whether each task has one turn, however long the others take, and failed ones no
   *     second
   */
  public Agenda(Backoff backoff, RandomGenerator random, boolean once) {
    this.backoff = backoff;
    this.random = random;
    this.once = once;
  }

  /**
   * Adds a task.
   *
   * @param interval how often it runs, first immediately; if empty only when it is woken
   */
  public synchronized void add(String task, Optional<Duration> interval, long now) {
    states.put(task, new State(interval, now));
  }

  /** The task that has been due longest, which counts as running from now on. */
  public synchronized Optional<Turn> take(long now) {
    String first = null;
    for (Map.Entry<String, State> entry : states.entrySet()) {
      State state = entry.getValue();
      if (state.due(now) && (first == null || state.regularAt - states.get(first).regularAt < 0)) {
        first = entry.getKey();
      }
    }
    if (first == null) {
      return Optional.empty();
    }
    State state = states.get(first);
    Turn turn = new Turn(first, state.regular(now));
    state.running = true;
    state.woken = false;
    return Optional.of(turn);
  }

  /**
   * Notes that a turn went well; a task woken meanwhile is due again.
   *
   * @param soonest when it should come again if that is before its interval is over
   */
  public synchronized void done(Turn turn, Optional<Duration> soonest, long now) {
    State state = states.get(turn.task());
    state.running = false;
    state.over = once;
    state.failures = 0;
    if (turn.regular() && state.interval.isPresent()) {
      state.regularAt = now + jittered(state.interval.get());
    }
    if (soonest.isPresent() && now + soonest.get().toNanos() - state.regularAt < 0) {
      state.regularAt = now + soonest.get().toNanos();
    }
  }

  /**
   * Notes that a turn failed: it is due again, but not before some time has passed.
   *
   * @return how long that is
   */
  public synchronized Duration failed(Turn turn, long now) {
    State state = states.get(turn.task());
    state.running = false;
    state.failures++;
    state.over = once;
    state.woken = !once;
    Duration wait = Duration.ofNanos(jittered(backoff.wait(state.failures)));
    state.notBefore = now + wait.toNanos();
    return wait;
  }

  private long jittered(Duration span) {
    return (long) (span.toNanos() * (1 + JITTER * (2 * random.nextDouble() - 1)));
  }

  /** Makes a task due now; one that failed is still not tried before its time. */
  public synchronized void wake(String task) {
    State state = states.get(task);
    if (state != null) {
      state.woken = true;
    }
  }

  /** Makes a task due now, as if its interval were over, even one that failed a moment ago. */
  public synchronized void hurry(String task, long now) {
    State state = states.get(task);
    if (state != null) {
      state.regularAt = now;
      state.notBefore = now;
    }
  }

  /** How long until a task is due; empty while it runs, or if only {@link #wake} makes it due. */
  public synchronized Optional<Duration> until(String task, long now) {
    State state = states.get(task);
    if (state == null || state.running || state.over || state.interval.isEmpty() && !state.woken) {
      return Optional.empty();
    }
    long at = state.woken ? now : state.regularAt;
    return Optional.of(Duration.ofNanos(Math.max(0, Math.max(at - now, state.notBefore - now))));
  }

  /** How many times in a row a task has failed. */
  public synchronized int failures(String task) {
    return states.get(task).failures;
  }

  /** Whether nothing runs and nothing is due, failed tasks aside. */
  public synchronized boolean idle(long now) {
    return states.values().stream().noneMatch(s -> s.running || s.due(now));
  }
}
