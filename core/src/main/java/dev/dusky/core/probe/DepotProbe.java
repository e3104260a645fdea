package dev.dusky.core.probe;

import dev.dusky.core.bytes.TemporaryFolder;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.depot.ProbeStep.Finding;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.UUID;

/**
 * Tries the rights on a depot that its use needs, with the depot's own operations: what a load does
 * is what is tried. Small files are put, and removed again.
 */
public final class DepotProbe {

  /** How many files are listed to find one that a feed's pattern matches. */
  private static final int MOST_LISTED = 10_000;

  /** What the names of the small files begin with. */
  public static final String PREFIX = "dusky-probe-";

  private final Depot depot;
  private final DepotUse use;
  private final boolean writable;

  /**
   * A probe.
   *
   * @param writable whether files can be stored in that kind of depot at all
   */
  public DepotProbe(Depot depot, DepotUse use, boolean writable) {
    this.depot = depot;
    this.use = use;
    this.writable = writable;
  }

  /** The steps, first those without which no other can work. */
  public List<ProbeStep> steps() {
    List<ProbeStep> steps = new ArrayList<>(depot.probe());
    if (use.feeds().isEmpty()) {
      steps.add(new ProbeStep("list", this::list));
      steps.add(new ProbeStep("read", this::read));
    }
    for (DepotUse.Reading feed : use.feeds()) {
      steps.add(new ProbeStep("feed " + feed.feed(), () -> feed(feed)));
    }
    for (DepotUse.Moving feed : use.archives()) {
      steps.add(new ProbeStep("archive " + feed.feed(), () -> move(feed)));
    }
    for (DepotUse.Removing feed : use.removals()) {
      steps.add(new ProbeStep("remove " + feed.feed(), () -> remove(feed.from())));
    }
    for (DepotUse.Writing folder : use.folders()) {
      steps.add(new ProbeStep(folder.purpose(), () -> write(folder.folder())));
    }
    if (writable) {
      steps.add(new ProbeStep("write", this::stage));
      steps.addAll(depot.probeStoring());
    }
    return steps;
  }

  /** Whether a step writes, and is left out where nothing may be written. */
  public static boolean writes(ProbeStep step) {
    String name = step.name();
    return !name.equals("resolve")
        && !name.equals("connect")
        && !name.equals("credentials")
        && !name.equals("list")
        && !name.equals("read")
        && !name.startsWith("feed ");
  }

  private Finding list() {
    Iterator<StagedFile> files = depot.list("");
    return Finding.passed(
        files.hasNext() ? "first file is " + files.next().path() : "no files yet");
  }

  private Finding read() {
    Iterator<StagedFile> files = depot.list("");
    if (!files.hasNext()) {
      return Finding.untried("no file to try it on");
    }
    StagedFile file = files.next();
    readByte(file);
    return Finding.passed("first byte of " + file.path() + " read");
  }

  private void readByte(StagedFile file) {
    try (InputStream in = depot.open(file)) {
      in.read();
    } catch (IOException e) {
      throw Failure.depot("Reading " + file.path() + " failed")
          .because(String.valueOf(e.getMessage()))
          .hint("Run again")
          .from(e);
    }
  }

  private Finding feed(DepotUse.Reading feed) {
    Iterator<StagedFile> files = depot.list(feed.files().prefix());
    for (int listed = 0; files.hasNext() && listed < MOST_LISTED; listed++) {
      StagedFile file = files.next();
      if (feed.files().matches(file.path())) {
        readByte(file);
        return Finding.passed("listed, and first byte of " + file.path() + " read");
      }
    }
    return Finding.passed("listed; no file matches " + feed.files() + " yet, so none was read");
  }

  /** Where no feed writes, only staging needs this right; there its lack does not fail. */
  private Finding stage() {
    try {
      return write("");
    } catch (Failure failure) {
      if (use.unknown()) {
        throw failure;
      }
      return Finding.untried("denied, and only 'dusky stage' needs it here: " + failure.what());
    }
  }

  private Finding write(String folder) {
    String path = put(folder);
    depot.remove(path);
    return Finding.passed(
        "a small file put%s and removed again"
            .formatted(folder.isEmpty() ? "" : " below " + folder));
  }

  private static String probeName() {
    return PREFIX + UUID.randomUUID();
  }

  /** Where nothing may be put, the right to remove is tried on a file that is not there. */
  private Finding remove(String folder) {
    try {
      return write(folder);
    } catch (Failure denied) {
      depot.remove(folder + probeName());
      return Finding.passed("removing is allowed; nothing was there to remove");
    }
  }

  /** Where nothing may be put in the feed's folder, both halves of the move are tried. */
  private Finding move(DepotUse.Moving feed) {
    String path;
    try {
      path = put(feed.from());
    } catch (Failure denied) {
      write(feed.to() + feed.from());
      depot.remove(feed.from() + probeName());
      return Finding.passed("writing to %s and removing are allowed".formatted(feed.to()));
    }
    StagedFile file =
        depot
            .look(path)
            .orElseThrow(
                () ->
                    Failure.depot(path + " was put in depot " + depot.name() + ", and is not there")
                        .because("the store does not show what was just written")
                        .hint("Check whether something removes files there"));
    depot.move(file, feed.to() + path);
    depot.remove(feed.to() + path);
    return Finding.passed("a small file moved to " + feed.to() + " and removed again");
  }

  private String put(String folder) {
    return put(depot, folder);
  }

  /**
   * Puts a small file and gives its path.
   *
   * @param folder empty, or ending in a slash
   */
  public static String put(Depot depot, String folder) {
    String path = folder + probeName();
    try {
      Path local = TemporaryFolder.newFile(".probe");
      try {
        Files.writeString(local, "written by dusky probe; may be removed\n");
        depot.put(path, local);
      } finally {
        Files.delete(local);
      }
    } catch (IOException e) {
      throw Failure.depot("A temporary file could not be made")
          .because(String.valueOf(e.getMessage()))
          .hint("Make room in " + TemporaryFolder.place())
          .from(e);
    }
    return path;
  }
}
