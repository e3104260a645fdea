package dev.dusky.depots.folders;

import dev.dusky.core.depot.StagedFile;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.Deque;
import java.util.Iterator;
import java.util.List;

/**
 * Walks folders in the order of full paths, holding one folder's names at each level. A folder
 * sorts as if its name ended with a slash, so that the order is that of object keys. Only folders
 * that can hold files with the prefix, behind the path where the listing begins, are read.
 *
 * @param <P> where an entry is, in the terms of the store
 */
public abstract class TreeListing<P> extends LookAhead<StagedFile> {

  /**
   * A file or folder.
   *
   * @param path its path below the root of the listing
   */
  public record Entry<P>(String path, P place, boolean folder) {
    byte[] sortKey() {
      return (folder ? path + "/" : path).getBytes(StandardCharsets.UTF_8);
    }
  }

  private final String prefix;
  private final byte[] after;
  private final Deque<Iterator<Entry<P>>> levels = new ArrayDeque<>();

  /**
   * A listing of files whose path starts with a prefix and comes behind another path; {@link
   * #begin} must be called before it is used.
   */
  protected TreeListing(String prefix, String after) {
    this.prefix = prefix;
    this.after = after.getBytes(StandardCharsets.UTF_8);
  }

  /** Reads the root. */
  protected final void begin(P root) {
    levels.push(wanted(root, ""));
  }

  /** What is in a folder; a path of the empty string is the root's. */
  protected abstract List<Entry<P>> read(P folder, String path);

  /** The file at an entry, or null if it has gone since its folder was read. */
  protected abstract StagedFile staged(Entry<P> entry);

  private Iterator<Entry<P>> wanted(P folder, String folderPath) {
    List<Entry<P>> entries = new ArrayList<>();
    for (Entry<P> entry : read(folder, folderPath)) {
      String path = entry.path();
      boolean below = entry.folder() && (prefix.startsWith(path + "/") || path.startsWith(prefix));
      if ((below || !entry.folder() && path.startsWith(prefix))
          && isBehind(entry.folder() ? path + "/\uffff" : path)) {
        entries.add(entry);
      }
    }
    entries.sort(Comparator.comparing(Entry::sortKey, Arrays::compareUnsigned));
    return entries.iterator();
  }

  private boolean isBehind(String path) {
    return Arrays.compareUnsigned(path.getBytes(StandardCharsets.UTF_8), after) > 0;
  }

  @Override
  protected final StagedFile find() {
    while (!levels.isEmpty()) {
      if (!levels.peek().hasNext()) {
        levels.pop();
        continue;
      }
      Entry<P> entry = levels.peek().next();
      if (entry.folder()) {
        levels.push(wanted(entry.place(), entry.path()));
      } else {
        StagedFile file = staged(entry);
        if (file != null) {
          return file;
        }
      }
    }
    return null;
  }
}
