package dev.dusky.core.notice;

import java.time.Duration;
import java.util.List;

/**
 * A queue that delivers each message at least once: a message that was received is hidden from
 * others for a time, and delivered again unless it is deleted before. May be used by several
 * threads; all methods throw a {@link dev.dusky.core.failure.Failure} of kind DEPOT.
 */
public interface NoticeQueue extends AutoCloseable {

  /** Where it is, for people. */
  String place();

  /**
   * Receives some messages, waiting for the first one.
   *
   * @param wait how long it waits, 20 s at most
   * @param hidden for how long those that come are hidden from others
   */
  List<Notice> receive(Duration wait, Duration hidden);

  /** Hides a message for that time from now on; of zero, it is delivered again at once. */
  void hide(Notice notice, Duration hidden);

  /** Deletes a message: it is not delivered again. */
  void delete(Notice notice);

  @Override
  void close();
}
