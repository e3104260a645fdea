package dev.dusky.cli.board;

import dev.dusky.cli.render.FileInProgress;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A feed as the board shows it.
 *
 * @param name its name
 * @param word what it does now, in one word
 * @param waiting how many files wait; empty until its depot was listed
 * @param inProgress the files being loaded, the first started first
 * @param perSecond the rows read per second by the running load, or by the last one
 * @param rejects how many rejects are open
 * @param refused how many files were refused and wait for a person
 * @param revised how many posted files were changed and wait for a person
 * @param missing how many files are due and did not come
 * @param lastPost when its last file was posted
 * @param next how long until the next scan; empty while it is scanned
 * @param pause who holds it and why
 * @param failures how many times in a row it has failed
 * @param failure what the last failure said, if it is failing
 * @param since what was loaded since the board opened
 * @param source where its files are, and what they are loaded into
 */
record FeedView(
    String name,
    String word,
    Optional<Long> waiting,
    List<FileInProgress> inProgress,
    double perSecond,
    long rejects,
    long refused,
    long revised,
    long missing,
    Optional<Instant> lastPost,
    Optional<Duration> next,
    Optional<String> pause,
    int failures,
    Optional<String> failure,
    Since since,
    String source) {

  /** How many files wait for a person. */
  long held() {
    return refused + revised;
  }

  /**
   * What was loaded since the board opened.
   *
   * @param posted how many files
   * @param refused how many files could not be loaded
   * @param rows how many rows were loaded
   */
  record Since(long posted, long refused, long rows) {

    static final Since NOTHING = new Since(0, 0, 0);

    Since plus(Since other) {
      return new Since(posted + other.posted, refused + other.refused, rows + other.rows);
    }
  }
}
