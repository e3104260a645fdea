package dev.dusky.lake;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.RootCause;
import dev.dusky.lake.engine.EngineRefusal;
import dev.dusky.lake.pointer.PointerFailure;
import dev.dusky.warehouses.connection.Database;
import java.sql.SQLException;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Optional;
import java.util.function.BiFunction;
import java.util.function.Supplier;
import java.util.regex.Pattern;
import org.apache.iceberg.exceptions.NotFoundException;

/** Turns what the table format's library and the store report into failures. */
final class LakeFailures {

  /** What the library says of a change that would be older than the one before. */
  private static final Pattern CLOCK =
      Pattern.compile("Expected sorted snapshot log|[Ii]nvalid (snapshot|update) timestamp");

  private final BiFunction<String, SQLException, Failure> refusals;

  LakeFailures(Database database) {
    this.refusals = database.failures()::of;
  }

  /** Where there is no database. */
  LakeFailures() {
    this.refusals =
        (doing, refusal) -> {
          throw new IllegalStateException(doing, refusal);
        };
  }

  /** Runs work on a table; what it throws becomes a failure that says what was being done. */
  <T> T run(String doing, Supplier<T> work) {
    try {
      return work.get();
    } catch (PointerFailure e) {
      throw refusals.apply(doing, e.refusal());
    } catch (NotFoundException e) {
      throw Failure.warehouse(doing + " stopped")
          .because("a file of the table is gone: " + e.getMessage())
          .hint("Restore it from the store's versions; nothing was changed")
          .from(e);
    } catch (Failure e) {
      throw e;
    } catch (RuntimeException e) {
      if (CLOCK.matcher(String.valueOf(e.getMessage())).find()) {
        throw behind(doing + " stopped").from(e);
      }
      Optional<Failure> below = ofStore(e);
      if (below.isPresent()) {
        Failure store = below.get();
        throw Failure.warehouse(doing + " stopped")
            .because(store.why().isEmpty() ? store.what() : store.what() + ": " + store.why())
            .hint(store.hint())
            .from(e);
      }
      throw Failure.warehouse(doing + " stopped")
          .because(RootCause.words(e))
          .hint("Nothing was changed; try again once the cause is removed")
          .from(e);
    }
  }

  /** What the engine refused. */
  Failure refused(String doing, EngineRefusal e) {
    if (CLOCK.matcher(String.valueOf(e.getMessage())).find()) {
      return behind(doing + " was refused by the engine").from(e);
    }
    return Failure.warehouse(doing + " was refused by the engine")
        .because(e.getMessage())
        .hint("Correct the rows or the statement. Nothing was changed")
        .from(e);
  }

  /** The store's own failure, which the library has wrapped. */
  private static Optional<Failure> ofStore(Throwable e) {
    for (Throwable cause = e;
        cause != null && cause.getCause() != cause;
        cause = cause.getCause()) {
      if (cause instanceof Failure failure) {
        return Optional.of(failure);
      }
    }
    return Optional.empty();
  }

  private static Failure behind(String what) {
    return Failure.warehouse(what)
        .because(
            "the table was last changed by a machine whose clock is more than a minute ahead of"
                + " this one, whose time is "
                + Instant.now().truncatedTo(ChronoUnit.SECONDS))
        .hint("Set the clocks of both by a time server. Nothing was changed");
  }
}
