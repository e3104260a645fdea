package dev.dusky.lake.read;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.table.ProvenanceKey;
import java.util.ArrayList;
import java.util.List;
import java.util.LongSummaryStatistics;
import java.util.Random;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;

class PostingSetTest {

  private final Random random = new Random();

  private List<ProvenanceKey> keys(int most) {
    List<ProvenanceKey> keys = new ArrayList<>();
    for (int i = random.nextInt(most); i >= 0; i--) {
      keys.add(new ProvenanceKey(random.nextInt(4), random.nextInt(5)));
    }
    return keys;
  }

  /** What the statistics of a data file say is true of its rows. */
  @RepeatedTest(200)
  void aShareIsTrueOfEveryRow() {
    List<ProvenanceKey> wanted = keys(6);
    List<ProvenanceKey> rows = keys(4);
    LongSummaryStatistics loads =
        rows.stream().mapToLong(ProvenanceKey::loadId).summaryStatistics();
    LongSummaryStatistics files =
        rows.stream().mapToLong(ProvenanceKey::fileId).summaryStatistics();
    PostingSet set = new PostingSet(wanted);
    long found = rows.stream().filter(row -> set.has(row.loadId(), row.fileId())).count();
    assertEquals(found, rows.stream().filter(wanted::contains).count());
    PostingSet.Share share =
        set.share(
            new PostingBounds(loads.getMin(), loads.getMax(), files.getMin(), files.getMax()));
    switch (share) {
      case NONE -> assertEquals(0, found);
      case ALL -> assertEquals(rows.size(), found);
      case UNKNOWN -> assertTrue(rows.stream().distinct().count() > 1, "one posting is known");
    }
  }

  @Test
  void withoutStatisticsNothingIsKnown() {
    PostingBounds none =
        new PostingBounds(Long.MIN_VALUE, Long.MAX_VALUE, Long.MIN_VALUE, Long.MAX_VALUE);
    assertEquals(
        PostingSet.Share.UNKNOWN, new PostingSet(List.of(new ProvenanceKey(1, 2))).share(none));
    assertEquals(PostingSet.Share.NONE, new PostingSet(List.of()).share(none));
  }
}
