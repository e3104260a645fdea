package dev.dusky.core.depot;

/**
 * One right or condition that can be tried.
 *
 * @param name what is tried, in a word or two
 * @param attempt tries it; gives a remark, or throws a {@link dev.dusky.core.failure.Failure}
 */
public record ProbeStep(String name, Attempt attempt) {

  /** An attempt that may fail. */
  @FunctionalInterface
  public interface Attempt {
    /** Tries it and gives a short remark for people. */
    String run();
  }
}
