package dev.dusky.depots.folders;

import java.util.Iterator;
import java.util.NoSuchElementException;

/** An iterator that knows its next element, found by {@link #find}. */
public abstract class LookAhead<T> implements Iterator<T> {

  private T next;
  private boolean begun;

  /** The next element, or null at the end. */
  protected abstract T find();

  @Override
  public final boolean hasNext() {
    if (!begun) {
      begun = true;
      next = find();
    }
    return next != null;
  }

  @Override
  public final T next() {
    if (!hasNext()) {
      throw new NoSuchElementException();
    }
    T result = next;
    next = find();
    return result;
  }
}
