package dev.dusky.core.stage;

import java.time.Duration;

/**
 * A staging as a whole.
 *
 * @param staged how many files were stored
 * @param bytes how many bytes they have
 * @param same how many were there already
 * @param differing how many were there with other content and left alone
 * @param unreadable how many could not be read, or not removed after they were stored
 * @param elapsed how long it took
 */
public record StageResult(
    int staged, long bytes, int same, int differing, int unreadable, Duration elapsed) {

  /** Whether all of the files are in the depot now. */
  public boolean whole() {
    return differing == 0 && unreadable == 0;
  }
}
