package dev.dusky.core.load;

import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.LoadLedger;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;

/**
 * Goes through the ledger's files of a feed beside a listing in the same order, page by page. Where
 * the listing jumps ahead the next page begins there, so neither a long ledger with few staged
 * files nor many staged files cost a query each.
 */
final class LedgerCursor {

  private static final int FIRST_PAGE = 200;
  private static final int LAST_PAGE = 8_000;

  private final LoadLedger ledger;
  private final String feed;
  private final Deque<FileEntry> page = new ArrayDeque<>();
  private String from = "";
  private String end = "";
  private boolean begun;
  private boolean last;
  private int size = FIRST_PAGE;
  private int found;

  LedgerCursor(LoadLedger ledger, String feed) {
    this.ledger = ledger;
    this.feed = feed;
  }

  /** The entries of a path; asked for path after path in the order of their bytes. */
  List<FileEntry> of(String path) {
    if (!begun || compare(path, from) < 0 || !last && compare(path, end) > 0) {
      turn(path);
    }
    from = path;
    while (!page.isEmpty() && compare(page.peek().path(), path) < 0) {
      page.remove();
    }
    List<FileEntry> entries = new ArrayList<>(1);
    while (!page.isEmpty() && page.peek().path().equals(path)) {
      entries.add(page.remove());
      found++;
    }
    return entries;
  }

  /** Fetches the page that begins with a path. Its last path may be cut off, so it is left out. */
  private void turn(String path) {
    size = found > size / 2 ? Math.min(LAST_PAGE, size * 2) : FIRST_PAGE;
    found = 0;
    begun = true;
    page.clear();
    while (page.isEmpty()) {
      List<FileEntry> entries = ledger.filesFrom(feed, path, size);
      last = entries.size() < size;
      if (last) {
        page.addAll(entries);
        return;
      }
      String cut = entries.get(entries.size() - 1).path();
      entries.stream().filter(entry -> !entry.path().equals(cut)).forEach(page::add);
      size = page.isEmpty() ? size * 2 : size;
    }
    end = page.peekLast().path();
  }

  private static int compare(String a, String b) {
    return Arrays.compareUnsigned(
        a.getBytes(StandardCharsets.UTF_8), b.getBytes(StandardCharsets.UTF_8));
  }
}
