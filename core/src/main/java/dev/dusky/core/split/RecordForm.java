package dev.dusky.core.split;

import dev.dusky.core.bind.FeedInputs;
import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.record.FieldRequest;
import java.util.List;
import java.util.Optional;

/**
 * How a file's records are found.
 *
 * @param layout the layout
 * @param feed the feed that will load the parts, if it is known
 */
public record RecordForm(Layout layout, Optional<Feed> feed) {

  /**
   * Checks that such files can be cut.
   *
   * @param path how messages name the file
   */
  public void check(String path) {
    boolean text =
        layout instanceof DelimitedLayout
            || layout instanceof FixedLayout
            || layout instanceof JsonLayout;
    if (!text) {
      throw Failure.usage(path + " cannot be split")
          .because("files of layout " + layout.name() + " are of kind " + layout.kind())
          .hint("Only delimited text, fixed width and JSON lines are cut. Stage it whole");
    }
    if (feed.isPresent() && feed.get().policies().expectations().trailer().isPresent()) {
      throw Failure.usage(path + " cannot be split")
          .because("feed " + feed.get().name() + " expects a trailer at the end of each file")
          .hint("Stage it whole");
    }
  }

  FieldRequest request() {
    return feed.map(f -> FeedInputs.of(f.withLayout(layout)).request())
        .orElseGet(() -> FieldRequest.of(List.of()));
  }

  ContentLimits limits() {
    return feed.map(Feed::limits).orElse(ContentLimits.DEFAULT);
  }
}
