package dev.dusky.warehouses.merging;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.script.MergeRequest.PostedFile;
import java.util.List;

/** The posted files of a merge of which each is a full snapshot. */
final class Snapshots {

  private static final String WAITING =
      """
      select t.load_id, t.file_id, f.path, t.state
      from dusky.tally t
      join dusky.load l on l.load_id = t.load_id
      join dusky.file f on f.file_id = t.file_id
      where l.into_table = :into and t.state in ('posted', 'mended') and t.reversed_by is null
        and t.loaded_rows > 0
        and not exists (select 1 from dusky.merge_file m
          where m.merge_name = :merge and m.load_id = t.load_id and m.file_id = t.file_id)
      order by f.path, t.load_id""";

  private final Database database;
  private final Merge merge;

  Snapshots(Database database, Merge merge) {
    this.database = database;
    this.merge = merge;
  }

  /** Those that the merge has not taken yet, in the order of their paths. */
  List<PostedFile> waiting() {
    if (!(merge.source() instanceof MergeSource.Landing landing)) {
      throw Failure.configuration("Merge " + merge.name() + " takes snapshots from a query")
          .hint("Only files are snapshots: give a landing table under 'from'");
    }
    return database.transact(
        "Looking for snapshots",
        h ->
            h.createQuery(WAITING)
                .bind("into", landing.table().toString())
                .bind("merge", merge.name())
                .map(
                    (row, context) ->
                        new PostedFile(
                            row.getLong("load_id"),
                            row.getLong("file_id"),
                            row.getString("path"),
                            row.getString("state").equals("posted")))
                .list());
  }

  /** Whether no later snapshot was merged before: a late one removes nothing. */
  boolean newest(PostedFile file) {
    return database.transact(
        "Looking for later snapshots",
        h ->
            h.createQuery(
                        "select count(*) from dusky.merge_file m"
                            + " join dusky.file f on f.file_id = m.file_id"
                            + " where m.merge_name = :merge and f.path > :path")
                    .bind("merge", merge.name())
                    .bind("path", file.path())
                    .mapTo(Long.class)
                    .one()
                == 0);
  }
}
