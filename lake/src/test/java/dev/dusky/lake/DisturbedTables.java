package dev.dusky.lake;

import dev.dusky.core.tables.GroupChange;
import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tables.Transaction;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.util.List;
import java.util.function.Consumer;

/**
 * Tables of which something happens after the rows are in the table and before the ledger commits.
 */
final class DisturbedTables {

  private DisturbedTables() {}

  static Tables of(Tables real, Consumer<Transaction> event) {
    return (Tables)
        Proxy.newProxyInstance(
            Tables.class.getClassLoader(),
            new Class<?>[] {Tables.class},
            (proxy, method, args) -> {
              try {
                Object result = method.invoke(real, args);
                if (result instanceof LandingChange change) {
                  return disturbed(change, () -> event.accept((Transaction) args[0]));
                }
                if (result instanceof GroupChange group) {
                  return alone(group);
                }
                return result;
              } catch (InvocationTargetException e) {
                throw e.getCause();
              }
            });
  }

  /** Gives every group up, so that each file has a commit. */
  private static GroupChange alone(GroupChange real) {
    return new GroupChange() {
      @Override
      public LandingChange of(long fileId) {
        return real.of(fileId);
      }

      @Override
      public boolean send() {
        return false;
      }
    };
  }

  private static LandingChange disturbed(LandingChange real, Runnable event) {
    return new LandingChange() {
      @Override
      public RowWriter writer() {
        return real.writer();
      }

      @Override
      public void post() {
        real.post();
        event.run();
      }

      @Override
      public void hold() {
        real.hold();
      }

      @Override
      public void rows(List<String> columns, LandedRows taker) {
        real.rows(columns, taker);
      }

      @Override
      public void undo() {
        real.undo();
      }
    };
  }
}
