package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.tally.Tally;
import java.util.Optional;

/**
 * A file to be loaded, with what stays the same in all attempts.
 *
 * @param run the load; its feed is the feed as it is now
 * @param file the file
 * @param facts what is known of the file itself
 * @param posting its claim and its rows
 * @param replaces whether what was posted of it before is taken out first
 * @param before the tally of the load's posted files so far
 * @param beside the files loaded at the same time
 * @param inline a batch to read into on the caller's thread, for a small file
 */
record FileTask(
    LoadRun run,
    StagedFile file,
    FileFacts facts,
    FilePosting posting,
    boolean replaces,
    Tally before,
    ConcurrentFiles beside,
    Optional<RecordBatch> inline) {}
