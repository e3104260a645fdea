package dev.dusky.lake;

import dev.dusky.core.tables.GroupChange;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.core.tables.Transaction;
import dev.dusky.lake.write.DataFiles;

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
    return new SharedRows(landing, access.failures(), files, load, fileId, () -> givenUp = true);
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
}
