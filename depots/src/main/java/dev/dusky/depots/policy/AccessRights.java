package dev.dusky.depots.policy;

import dev.dusky.core.probe.DepotProbe;
import dev.dusky.core.probe.DepotUse;
import java.util.Set;
import java.util.TreeSet;

/**
 * What must be allowed below which prefixes of a depot. A prefix that another one contains is left
 * out. The small files that a probe writes may be removed again.
 *
 * @param list prefixes that are listed
 * @param read prefixes whose files are read
 * @param write prefixes that files are written to
 * @param remove prefixes whose files are removed
 */
record AccessRights(Set<String> list, Set<String> read, Set<String> write, Set<String> remove) {

  static AccessRights of(DepotUse use, boolean staging) {
    Set<String> list = new TreeSet<>();
    Set<String> read = new TreeSet<>();
    Set<String> write = new TreeSet<>();
    Set<String> remove = new TreeSet<>();
    for (DepotUse.Reading feed : use.feeds()) {
      list.add(feed.files().prefix());
      read.add(feed.files().prefix());
    }
    for (DepotUse.Moving feed : use.archives()) {
      // A copy is looked at before it is made, and what was read is removed after it.
      read.add(feed.to() + feed.from());
      write.add(feed.to() + feed.from());
      remove.add(feed.from());
      remove.add(feed.to() + feed.from() + DepotProbe.PREFIX);
    }
    use.removals().forEach(feed -> remove.add(feed.from()));
    for (DepotUse.Writing folder : use.folders()) {
      write.add(folder.folder());
      remove.add(folder.folder() + DepotProbe.PREFIX);
      if (folder.purpose().equals("tables")) {
        list.add(folder.folder());
        read.add(folder.folder());
        remove.add(folder.folder());
      }
    }
    if (staging) {
      // What is there is compared with what is staged.
      list.add("");
      read.add("");
      write.add("");
      remove.add(DepotProbe.PREFIX);
    }
    return new AccessRights(widest(list), widest(read), widest(write), widest(remove));
  }

  private static Set<String> widest(Set<String> prefixes) {
    Set<String> kept = new TreeSet<>();
    for (String each : prefixes) {
      if (prefixes.stream().noneMatch(other -> !other.equals(each) && each.startsWith(other))) {
        kept.add(each);
      }
    }
    return kept;
  }
}
