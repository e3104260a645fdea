package dev.dusky.testkit;

import dev.dusky.core.tables.Trial;
import java.util.ArrayList;
import java.util.List;

/** Changes that are applied together, or not at all. */
final class MemoryTransaction implements Trial {

  private record At(int size) implements Mark {}

  private final List<Runnable> changes = new ArrayList<>();

  /** Adds a change. */
  void add(Runnable change) {
    changes.add(change);
  }

  /** Applies all of them. */
  void commit() {
    changes.forEach(Runnable::run);
    changes.clear();
  }

  @Override
  public Mark mark() {
    return new At(changes.size());
  }

  @Override
  public void undo(Mark mark) {
    changes.subList(((At) mark).size(), changes.size()).clear();
  }

  @Override
  public void undoAll() {
    changes.clear();
  }

  @Override
  public void close() {
    undoAll();
  }
}
