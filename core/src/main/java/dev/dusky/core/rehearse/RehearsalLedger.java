package dev.dusky.core.rehearse;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.expect.Volume;
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
import dev.dusky.core.tables.Trial;
import dev.dusky.core.usage.Usage;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/** A ledger that is read and never written. */
public final class RehearsalLedger implements LoadLedger {

  private final Rehearsal rehearsal;
  private final RejectTaker taker;
  private final Map<String, FileEntry> posted = new HashMap<>();

  RehearsalLedger(Rehearsal rehearsal, RejectTaker taker) {
    this.rehearsal = rehearsal;
    this.taker = taker;
  }

  @Override
  public RunningLoad begin(LoadStart start, Feed feed) {
    posted.clear();
    return new Rehearsed(feed);
  }

  @Override
  public List<FileEntry> filesFrom(String feed, String path, int most) {
    return rehearsal.booked() ? rehearsal.real().filesFrom(feed, path, most) : List.of();
  }

  @Override
  public boolean exists() {
    return rehearsal.booked();
  }

  @Override
  public Optional<FileEntry> twin(String feed, String fingerprint) {
    FileEntry earlier = posted.get(fingerprint);
    if (earlier != null) {
      return Optional.of(earlier);
    }
    return rehearsal.booked() ? rehearsal.real().twin(feed, fingerprint) : Optional.empty();
  }

  @Override
  public List<Volume> volumes(String feed, int most) {
    return rehearsal.booked() ? rehearsal.real().volumes(feed, most) : List.of();
  }

  @Override
  public List<PostedRows> inForce(String feed, String path) {
    return rehearsal.booked() ? rehearsal.real().inForce(feed, path) : List.of();
  }

  @Override
  public List<PostedRows> inForce(String feed) {
    return rehearsal.booked() ? rehearsal.real().inForce(feed) : List.of();
  }

  @Override
  public List<GrownColumn> grown(String feed) {
    return rehearsal.grown(feed);
  }

  @Override
  public <T> T changeColumns(String feed, Function<FeedColumns, T> work) {
    return work.apply(
        new FeedColumns() {
          @Override
          public Transaction transaction() {
            return new Transaction() {}; // no table is changed in it
          }

          @Override
          public List<GrownColumn> known() {
            return rehearsal.grown(feed);
          }

          @Override
          public void note(GrownColumn column, long loadId) {
            rehearsal.note(column);
          }
        });
  }

  @Override
  public Optional<String> pause(String feed) {
    return Optional.empty();
  }

  @Override
  public List<DueFile> due(String feed) {
    return List.of();
  }

  @Override
  public void settleDue(List<DueFile> files, Function<DueFile, Optional<DueFile>> work) {
    // A rehearsal posts nothing.
  }

  /** The load that is rolled back. */
  private final class Rehearsed implements RunningLoad {

    private final String feed;
    private final Feed declared;
    private final Trial trial = rehearsal.realTables().trial();
    private long files;
    private boolean replacing;

    Rehearsed(Feed feed) {
      this.feed = feed.name();
      this.declared = feed;
    }

    @Override
    public long id() {
      return 0;
    }

    @Override
    public Optional<FileClaim> claim(StagedFile file, Optional<FileEntry> known) {
      return Optional.of(new Claim(file, --files));
    }

    @Override
    public Optional<GroupClaim> claimTogether(
        List<StagedFile> staged, List<Optional<FileEntry>> known) {
      return rehearsal.elsewhere() ? Optional.of(new Together()) : Optional.empty();
    }

    @Override
    public Optional<FileClaim> claimAgain(StagedFile file) {
      return claim(file, Optional.empty());
    }

    @Override
    public Optional<ReplaceClaim> claimReplacing(
        List<StagedFile> staged, List<Optional<FileEntry>> known) {
      return Optional.of(new Replacing());
    }

    @Override
    public RejectClaim claimRejects(StoredReject any, Collection<Long> rejects) {
      throw new IllegalStateException("mending is not rehearsed");
    }

    @Override
    public void finish(LoadState state, String message, Usage usage) {
      // Nothing is entered.
    }

    @Override
    public void close() {
      trial.close();
    }

    /** Files that other machines attempt. */
    private final class Together implements GroupClaim {

      @Override
      public Transaction transaction() {
        return trial;
      }

      @Override
      public Optional<FileClaim> of(StagedFile file) {
        return Optional.of(new Claim(file, --files));
      }

      @Override
      public boolean post() {
        return true; // nothing is entered
      }

      @Override
      public void close() {
        // Nothing is held.
      }
    }

    /** All files of a load that replaces what is there. */
    private final class Replacing implements ReplaceClaim {

      @Override
      public Transaction transaction() {
        return trial;
      }

      @Override
      public List<PostedRows> inForce() {
        return RehearsalLedger.this.inForce(feed);
      }

      @Override
      public void replaced(List<PostedRows> postings, long rows) {
        replacing = true;
      }

      @Override
      public FileClaim of(StagedFile file) {
        return new Claim(file, --files);
      }

      @Override
      public void undo() {
        trial.undoAll();
        posted.clear();
      }

      @Override
      public boolean renew() {
        return true;
      }

      @Override
      public void post() {
        // Nothing is entered.
      }

      @Override
      public void refuse(String why) {
        // Nothing is entered.
      }

      @Override
      public void close() {
        trial.undoAll();
      }
    }

    /** A file whose rows stay until the end, so that later files meet them. */
    private final class Claim implements FileClaim {

      private final StagedFile file;
      private final long number;
      private final Trial.Mark before = trial.mark();
      private boolean settled;

      Claim(StagedFile file, long number) {
        this.file = file;
        this.number = number;
      }

      @Override
      public long fileId() {
        return number;
      }

      @Override
      public Transaction transaction() {
        return trial;
      }

      @Override
      public void withdraw(String why, RowRemoval removal) {
        for (PostedRows rows : inForce(feed, file.path())) {
          removal.takeOut(rows.loadId(), rows.fileId());
        }
      }

      @Override
      public String landedMark() {
        return rehearsal.booked() ? "as it was" : "";
      }

      @Override
      public Optional<FileEntry> twinOf(String fingerprint) {
        return replacing
            ? Optional.ofNullable(posted.get(content(fingerprint)))
            : twin(feed, fingerprint);
      }

      @Override
      public boolean renew() {
        trial.undo(before);
        return true;
      }

      @Override
      public void settle(FileOutcome outcome, RejectSpool rejects) {
        settled = true;
        if (outcome.state() == FileState.POSTED) {
          outcome.fingerprint().ifPresent(print -> posted.put(content(print), entry()));
        }
        taker.take(file, outcome, rejects);
      }

      /** Where slices are replaced, a file has twins in its slice alone. */
      private String content(String fingerprint) {
        return replacing
            ? fingerprint + declared.policies().replacing().slice(declared.files(), file.path())
            : fingerprint;
      }

      private FileEntry entry() {
        return new FileEntry(
            number,
            file.path(),
            file.version(),
            FileState.POSTED,
            Optional.of(0L),
            Optional.empty(),
            Optional.empty());
      }

      @Override
      public void close() {
        if (!settled) {
          trial.undoAll();
        }
      }
    }
  }
}
