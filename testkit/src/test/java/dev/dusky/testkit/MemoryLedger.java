package dev.dusky.testkit;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.expect.Volume;
import dev.dusky.core.feed.Afterwards;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.ledger.DueFile;
import dev.dusky.core.ledger.FeedColumns;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.GroupClaim;
import dev.dusky.core.ledger.LoadLedger;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.ledger.PostedRows;
import dev.dusky.core.ledger.RejectClaim;
import dev.dusky.core.ledger.ReplaceClaim;
import dev.dusky.core.ledger.RowRemoval;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.tables.Transaction;
import dev.dusky.core.usage.Usage;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;

/** A ledger in memory, as loads use it. */
public final class MemoryLedger implements LoadLedger {

  private final Object monitor;
  private final Faults faults;
  private final List<MemoryFile> files = new ArrayList<>();
  private final Map<Long, LoadState> loads = new TreeMap<>();
  private final Map<String, List<GrownColumn>> grown = new HashMap<>();
  private final Map<Long, DueFile> due = new TreeMap<>();
  private Optional<String> pause = Optional.empty();
  private boolean grouping = true;

  MemoryLedger(Object monitor, Faults faults) {
    this.monitor = monitor;
    this.faults = faults;
  }

  /** From now on no files are claimed together. */
  public void oneByOne() {
    grouping = false;
  }

  /** Pauses all feeds. */
  public void pause(Optional<String> reason) {
    pause = reason;
  }

  /** All entries of files, in the order in which they were entered. */
  public List<MemoryFile> files() {
    synchronized (monitor) {
      return List.copyOf(files);
    }
  }

  /** The states of all loads, by number. */
  public Map<Long, LoadState> loads() {
    synchronized (monitor) {
      return Map.copyOf(loads);
    }
  }

  /** Releases what a dead process held. */
  public void recover() {
    synchronized (monitor) {
      files.forEach(file -> file.claimed = false);
      loads.replaceAll((id, state) -> state == LoadState.RUNNING ? LoadState.INTERRUPTED : state);
    }
  }

  @Override
  public boolean exists() {
    return true;
  }

  @Override
  public RunningLoad begin(LoadStart start, Feed feed) {
    synchronized (monitor) {
      faults.step("Opening a load");
      long id = loads.size() + 1L;
      loads.put(id, LoadState.RUNNING);
      return new Load(id, feed, start);
    }
  }

  @Override
  public List<FileEntry> filesFrom(String feed, String path, int most) {
    synchronized (monitor) {
      faults.step("Looking up files");
      return files.stream()
          .filter(file -> file.feed.equals(feed) && compare(file.path, path) >= 0)
          .sorted(Comparator.comparing((MemoryFile f) -> f.path, MemoryLedger::compare))
          .limit(most)
          .map(MemoryFile::entry)
          .toList();
    }
  }

  private static int compare(String a, String b) {
    return Arrays.compareUnsigned(
        a.getBytes(StandardCharsets.UTF_8), b.getBytes(StandardCharsets.UTF_8));
  }

  @Override
  public List<Volume> volumes(String feed, int most) {
    synchronized (monitor) {
      return files.stream()
          .filter(f -> f.feed.equals(feed) && f.state == FileState.POSTED)
          .map(
              f ->
                  new Volume(
                      f.path,
                      Instant.EPOCH,
                      f.tally.read(),
                      Long.parseLong(f.version.substring(0, f.version.indexOf(':'))),
                      f.tally.rejected(),
                      f.tally.loaded(),
                      Map.of()))
          .limit(most)
          .toList();
    }
  }

  @Override
  public Optional<FileEntry> twin(String feed, String fingerprint) {
    synchronized (monitor) {
      faults.step("Looking for twins");
      return files.stream()
          .filter(f -> f.feed.equals(feed) && f.state == FileState.POSTED)
          .filter(f -> f.fingerprint.equals(Optional.of(fingerprint)))
          .findFirst()
          .map(MemoryFile::entry);
    }
  }

  @Override
  public List<PostedRows> inForce(String feed) {
    synchronized (monitor) {
      return files.stream()
          .filter(f -> f.feed.equals(feed) && f.state == FileState.POSTED)
          .map(f -> new PostedRows(f.load.get(), f.id, f.path, "posted", f.tally.loaded()))
          .toList();
    }
  }

  @Override
  public List<PostedRows> inForce(String feed, String path) {
    synchronized (monitor) {
      return files.stream()
          .filter(f -> f.feed.equals(feed) && f.path.equals(path))
          .filter(f -> f.state == FileState.POSTED)
          .map(f -> new PostedRows(f.load.get(), f.id, path, "posted", f.tally.loaded()))
          .toList();
    }
  }

  @Override
  public List<GrownColumn> grown(String feed) {
    synchronized (monitor) {
      faults.step("Reading the columns of " + feed);
      return List.copyOf(grown.getOrDefault(feed, List.of()));
    }
  }

  @Override
  public <T> T changeColumns(String feed, Function<FeedColumns, T> work) {
    synchronized (monitor) {
      faults.step("Changing the columns of " + feed);
      MemoryTransaction transaction = new MemoryTransaction();
      T result = work.apply(new Columns(feed, transaction));
      transaction.commit();
      return result;
    }
  }

  private record Noted(MemoryLedger ledger, String feed, GrownColumn column) implements Runnable {
    @Override
    public void run() {
      ledger.grown.computeIfAbsent(feed, f -> new ArrayList<>()).add(column);
    }
  }

  /** A feed's columns while they are held. */
  private final class Columns implements FeedColumns {

    private final String feed;
    private final MemoryTransaction transaction;

    Columns(String feed, MemoryTransaction transaction) {
      this.feed = feed;
      this.transaction = transaction;
    }

    @Override
    public Transaction transaction() {
      return transaction;
    }

    @Override
    public List<GrownColumn> known() {
      return List.copyOf(grown.getOrDefault(feed, List.of()));
    }

    @Override
    public void note(GrownColumn column, long loadId) {
      transaction.add(new Noted(MemoryLedger.this, feed, column));
    }
  }

  @Override
  public Optional<String> pause(String feed) {
    return pause;
  }

  @Override
  public List<DueFile> due(String feed) {
    synchronized (monitor) {
      faults.step("Looking for files to be archived or removed");
      return List.copyOf(due.values());
    }
  }

  @Override
  public void settleDue(List<DueFile> all, Function<DueFile, Optional<DueFile>> work) {
    for (DueFile file : all) {
      work.apply(file)
          .ifPresent(
              done -> {
                synchronized (monitor) {
                  faults.step("Noting what became of " + file.path());
                  due.remove(file.fileId());
                }
              });
    }
  }

  /** A running load. */
  private final class Load implements RunningLoad {

    private final long id;
    private final Feed feed;
    private final LoadStart start;

    Load(long id, Feed feed, LoadStart start) {
      this.id = id;
      this.feed = feed;
      this.start = start;
    }

    @Override
    public long id() {
      return id;
    }

    @Override
    public Optional<FileClaim> claim(StagedFile file, Optional<FileEntry> known) {
      synchronized (monitor) {
        faults.step("Claiming " + file.path());
        MemoryFile entry = enter(file);
        boolean changed = !entry.load.equals(known.flatMap(FileEntry::loadId));
        if (entry.claimed || entry.state.settled() || changed) {
          return Optional.empty();
        }
        entry.claimed = true;
        return Optional.of(new Claim(this, entry, new MemoryTransaction(), Optional.empty()));
      }
    }

    @Override
    public Optional<FileClaim> claimAgain(StagedFile file) {
      synchronized (monitor) {
        faults.step("Claiming " + file.path());
        MemoryFile entry = enter(file);
        if (entry.claimed) {
          return Optional.empty();
        }
        entry.claimed = true;
        return Optional.of(new Claim(this, entry, new MemoryTransaction(), Optional.empty()));
      }
    }

    private MemoryFile enter(StagedFile file) {
      return files.stream()
          .filter(f -> f.feed.equals(feed.name()) && f.path.equals(file.path()))
          .filter(f -> f.version.equals(file.version()))
          .findFirst()
          .orElseGet(
              () -> {
                MemoryFile made =
                    new MemoryFile(files.size() + 1L, feed.name(), file.path(), file.version());
                files.add(made);
                return made;
              });
    }

    @Override
    public Optional<GroupClaim> claimTogether(
        List<StagedFile> staged, List<Optional<FileEntry>> known) {
      if (!grouping) {
        return Optional.empty();
      }
      Group group = new Group(this);
      for (int i = 0; i < staged.size(); i++) {
        Optional<FileClaim> claim = claim(staged.get(i), known.get(i));
        if (claim.isPresent()) {
          group.add(staged.get(i), ((Claim) claim.get()).file);
        }
      }
      return Optional.of(group);
    }

    @Override
    public Optional<ReplaceClaim> claimReplacing(
        List<StagedFile> files, List<Optional<FileEntry>> known) {
      throw new IllegalStateException("these tables keep no former rows");
    }

    @Override
    public RejectClaim claimRejects(StoredReject any, Collection<Long> rejects) {
      throw new IllegalStateException("this ledger keeps no rejects");
    }

    @Override
    public void finish(LoadState state, String message, Usage usage) {
      synchronized (monitor) {
        faults.step("Closing load " + id);
        if (!state.mayFollow(loads.get(id))) {
          throw new IllegalStateException(loads.get(id) + " cannot become " + state);
        }
        loads.put(id, state);
      }
    }

    @Override
    public void close() {}
  }

  /** Several files in one transaction. */
  private final class Group implements GroupClaim {

    private final Load load;
    private final MemoryTransaction transaction = new MemoryTransaction();
    private final Map<String, Claim> members = new HashMap<>();
    private final Map<String, FileEntry> posted = new HashMap<>();

    Group(Load load) {
      this.load = load;
    }

    void add(StagedFile staged, MemoryFile file) {
      members.put(staged.path(), new Claim(load, file, transaction, Optional.of(posted)));
    }

    @Override
    public Transaction transaction() {
      return transaction;
    }

    @Override
    public Optional<FileClaim> of(StagedFile file) {
      return Optional.ofNullable(members.get(file.path()));
    }

    @Override
    public boolean post() {
      synchronized (monitor) {
        faults.step("Posting small files");
        boolean whole = members.values().stream().allMatch(member -> member.settled);
        boolean twins =
            posted.keySet().stream().anyMatch(print -> twin(load.feed.name(), print).isPresent());
        if (!whole || twins) {
          return false;
        }
        transaction.commit();
        return true;
      }
    }

    @Override
    public void close() {
      synchronized (monitor) {
        transaction.undoAll();
        members.values().forEach(member -> member.file.claimed = false);
      }
    }
  }

  /** One file. */
  private final class Claim implements FileClaim {

    private final Load load;
    private final MemoryFile file;
    private final MemoryTransaction transaction;
    private final Optional<Map<String, FileEntry>> group;
    private boolean settled;

    /** A claim; {@code group} has what other members of its group post, by fingerprint. */
    Claim(
        Load load,
        MemoryFile file,
        MemoryTransaction transaction,
        Optional<Map<String, FileEntry>> group) {
      this.load = load;
      this.file = file;
      this.transaction = transaction;
      this.group = group;
    }

    @Override
    public long fileId() {
      return file.id;
    }

    @Override
    public Transaction transaction() {
      return transaction;
    }

    @Override
    public void withdraw(String why, RowRemoval removal) {
      synchronized (monitor) {
        faults.step("Taking out " + file.path);
        for (MemoryFile posted : files) {
          if (posted.path.equals(file.path) && posted.state == FileState.POSTED) {
            removal.takeOut(posted.load.get(), posted.id);
            transaction.add(() -> posted.state = FileState.REVERSED);
          }
        }
      }
    }

    @Override
    public String landedMark() {
      synchronized (monitor) {
        return Long.toString(
            files.stream().filter(f -> f.load.filter(l -> l != load.id).isPresent()).count());
      }
    }

    @Override
    public Optional<FileEntry> twinOf(String fingerprint) {
      return group.isPresent()
          ? Optional.ofNullable(group.get().get(fingerprint))
          : twin(load.feed.name(), fingerprint).filter(entry -> entry.fileId() != file.id);
    }

    @Override
    public boolean renew() {
      synchronized (monitor) {
        faults.step("Undoing the rows of " + file.path);
        if (group.isEmpty()) {
          transaction.undoAll();
        }
        return true;
      }
    }

    @Override
    public void settle(FileOutcome outcome, RejectSpool rejects) {
      synchronized (monitor) {
        faults.step("Posting " + file.path);
        transaction.add(() -> file.settle(outcome, load.id, load.start.declaredHash()));
        if (outcome.state().settled()) {
          transaction.add(this::enterDue);
        }
        if (outcome.state() == FileState.POSTED) {
          FileEntry entry =
              new FileEntry(
                  file.id,
                  file.path,
                  file.version,
                  FileState.POSTED,
                  Optional.of(load.id),
                  Optional.empty(),
                  Optional.empty());
          group.ifPresent(g -> outcome.fingerprint().ifPresent(p -> g.putIfAbsent(p, entry)));
        }
        settled = true;
        if (group.isEmpty()) {
          transaction.commit();
        }
      }
    }

    private void enterDue() {
      Afterwards afterwards = load.feed.policies().arrivals().afterwards();
      if (afterwards instanceof Afterwards.Archive archive) {
        due.put(
            file.id,
            new DueFile(file.id, file.path, file.version, Optional.of(archive.target(file.path))));
      } else if (afterwards instanceof Afterwards.Remove) {
        due.put(file.id, new DueFile(file.id, file.path, file.version, Optional.empty()));
      }
    }

    @Override
    public void close() {
      if (group.isEmpty()) {
        synchronized (monitor) {
          transaction.undoAll();
          file.claimed = false;
        }
      }
    }
  }
}
