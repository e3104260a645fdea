package dev.dusky.lake;

import dev.dusky.core.tables.GroupChange;
import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.core.tables.Transaction;
import dev.dusky.lake.write.DataFiles;
import java.util.List;
import java.util.Optional;

/**
 * The change that several small files make together: they share data files. Rows that are written
 * cannot be taken out of a shared file; if one of the files is not posted after all, the group is
 * given up and its files are processed one by one.
 */
final class LakeGroupChange implements GroupChange {

  private final LakeAccess access;
  private final Transaction transaction;
  private final Landing landing;
  private final long load;
  private final DataFiles files;
  private boolean givenUp;

  LakeGroupChange(LakeAccess access, Transaction transaction, Landing landing, long load) {
    this.access = access;
    this.transaction = transaction;
    this.landing = landing;
    this.load = load;
    this.files = access.dataFiles(transaction, landing);
  }

  @Override
  public LandingChange of(long fileId) {
    return new Member(fileId);
  }

  @Override
  public boolean send() {
    String doing = "Writing into " + landing.table().name();
    if (givenUp) {
      access
          .failures()
          .run(
              doing,
              () -> {
                files.discard();
                return null;
              });
      return false;
    }
    access.append(transaction, landing.table().name(), access.failures().run(doing, files::finish));
    return true;
  }

  /** The part of one file. */
  private final class Member implements LandingChange {

    private final long file;
    private boolean writing;

    Member(long file) {
      this.file = file;
    }

    @Override
    public RowWriter writer() {
      writing = true;
      return new LakeRowWriter(landing, access.failures(), Optional.of(files), load, file);
    }

    @Override
    public void undo() {
      givenUp |= writing;
    }

    @Override
    public void hold() {
      throw new IllegalStateException("repeats across files are detected file by file");
    }

    @Override
    public void rows(List<String> columns, LandedRows taker) {
      throw new IllegalStateException("repeats across files are detected file by file");
    }
  }
}
