package dev.dusky.core.depot;

/**
 * One right or condition that can be tried.
 *
 * @param name what is tried, in a word or two
 * @param attempt tries it; gives what was found, or throws a {@link dev.dusky.core.failure.Failure}
 */
public record ProbeStep(String name, Attempt attempt) {

  /** An attempt that may fail. */
  @FunctionalInterface
  public interface Attempt {
    /** Tries it and says what was found. */
    Finding run();
  }

  /**
   * The result of a successful probe step.
   *
   * @param tried whether it could be tried at all
   * @param remark a few words for people
   */
  public record Finding(boolean tried, String remark) {

    /** It works. */
    public static Finding passed(String remark) {
      return new Finding(true, remark);
    }

    /** There was nothing to try it on. */
    public static Finding untried(String remark) {
      return new Finding(false, remark);
    }
  }
}
