package dev.dusky.core.mend;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FeedInputs;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadLedger;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.ledger.MendOutcome;
import dev.dusky.core.ledger.MendOutcome.StillWrong;
import dev.dusky.core.ledger.RejectClaim;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.load.ColumnTotals;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReparser;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.core.tables.Refusals;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.usage.Meter;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;

/**
 * Loads repaired records: each is read, typed and checked like any other of its feed, and its row
 * lands with the file and record number of the reject that it settles. All rejects of one file are
 * one transaction. Records that are still wrong leave their reject open, with the new reasons.
 */
public final class Mender {

  private final LoadLedger ledger;
  private final Tables tables;
  private final Feed feed;
  private final LoadStart start;
  private final MendListener listener;

  /** A mender for one feed. */
  public Mender(
      LoadLedger ledger, Tables tables, Feed feed, LoadStart start, MendListener listener) {
    this.ledger = ledger;
    this.tables = tables;
    this.feed = feed.withPolicies(feed.policies().withRejectCap(Integer.MAX_VALUE));
    this.start = start.as(LoadKind.MEND);
    this.listener = listener;
  }

  /**
   * Mends.
   *
   * @param repairs rejects of this feed, no reject twice
   * @return the account of all of it
   */
  public Tally run(List<Repair> repairs) {
    TableShape table =
        tables
            .shape(feed.into())
            .orElseThrow(() -> Failure.warehouse("Table %s does not exist".formatted(feed.into())));
    Map<Long, List<Repair>> byFile =
        repairs.stream()
            .collect(
                Collectors.groupingBy(
                    repair -> repair.reject().fileId(), LinkedHashMap::new, Collectors.toList()));
    Tally tally = Tally.NONE;
    try (Meter meter = Meter.open();
        RunningLoad load = ledger.begin(start, feed)) {
      try {
        for (List<Repair> ofFile : byFile.values()) {
          tally = tally.plus(new OneFile(load, table, ofFile).mend());
        }
        load.finish(LoadState.DONE, "", meter.usage());
      } catch (Failure failure) {
        load.finish(LoadState.FAILED, failure.getMessage(), meter.usage());
        throw failure;
      }
    }
    return tally;
  }

  /** The repairs of one file. */
  private final class OneFile {

    private final RunningLoad load;
    private final TableShape table;
    private final List<Repair> repairs;
    private final FileFacts facts;
    private final ColumnTotals totals = new ColumnTotals(feed);
    private final Map<Long, StillWrong> wrong = new TreeMap<>();
    private final Set<Long> mended = new HashSet<>();
    private final Set<Long> several = new HashSet<>();
    private final Map<Long, Repair> byRecord = new HashMap<>();
    private final long startNanos = System.nanoTime();
    private final Map<String, RecordReparser> readers = new HashMap<>();
    private long sent;
    private long filtered;

    OneFile(RunningLoad load, TableShape table, List<Repair> repairs) {
      this.load = load;
      this.table = table;
      this.repairs = repairs;
      this.facts =
          FileFacts.of(feed.files(), repairs.get(0).reject().file(), load.id(), start.at());
    }

    Tally mend() {
      List<Long> ids = repairs.stream().map(repair -> repair.reject().id()).toList();
      try (RejectClaim claim = load.claimRejects(repairs.get(0).reject(), ids)) {
        Refusals refusals;
        long loaded;
        LandingChange change = change(claim);
        try (RowWriter writer = change.writer()) {
          for (Repair repair : repairs) {
            if (claim.held().contains(repair.reject().id())) {
              read(repair, writer);
            } else {
              listener.settled(repair.reject());
            }
          }
          loaded = writer.finish();
          refusals = writer.refusals();
        }
        for (Refusals.Refusal refusal : refusals.kept()) {
          refuseHalves(byRecord.get(refusal.recordNumber()));
          fail(byRecord.get(refusal.recordNumber()), refusal.problems());
        }
        if (loaded + refusals.count() != sent) {
          throw Failure.warehouse("Mending rejects of " + repairs.get(0).reject().file().path())
              .because(
                  "%,d rows were sent, but the warehouse took %,d and refused %,d"
                      .formatted(sent, loaded, refusals.count()));
        }
        mended.removeAll(wrong.keySet());
        Tally tally =
            new Tally(loaded + wrong.size() + filtered, loaded, 0, wrong.size(), filtered, 0);
        if (tally.read() > 0) {
          change.post();
          claim.settle(
              new MendOutcome(
                  tally,
                  mended,
                  wrong,
                  totals.totals(refusals, List.of()),
                  Duration.ofNanos(System.nanoTime() - startNanos)));
          tell();
        }
        return tally;
      }
    }

    private LandingChange change(RejectClaim claim) {
      long file = repairs.get(0).reject().fileId();
      return tables.change(claim.transaction(), new Landing(feed, table), load.id(), file);
    }

    /** A record that gives several rows is mended wholly or not at all. */
    private void refuseHalves(Repair repair) {
      if (several.contains(repair.reject().id())) {
        throw Failure.warehouse("Mending reject %d stopped".formatted(repair.reject().id()))
            .because("it gives several rows, and the table refuses one of them")
            .hint("Nothing of its file was mended. Correct it, or leave it out of what is mended");
      }
    }

    private void tell() {
      for (Repair repair : repairs) {
        long id = repair.reject().id();
        if (mended.contains(id)) {
          listener.mended(repair.reject());
        } else if (wrong.containsKey(id)) {
          listener.wrong(repair.reject(), wrong.get(id).problems());
        }
      }
    }

    private void fail(Repair repair, List<Problem> problems) {
      wrong.put(repair.reject().id(), new StillWrong(repair.raw(), problems));
    }

    private void fail(Repair repair, RejectCode code, String message) {
      fail(repair, List.of(new Problem(code, "", "", message)));
    }

    private void read(Repair repair, RowWriter writer) {
      StoredReject reject = repair.reject();
      if (reject.reject().rawCut() && Arrays.equals(repair.raw(), reject.reject().raw())) {
        fail(repair, RejectCode.RECORD_TOO_LARGE, "only the beginning of the record was kept");
        return;
      }
      RecordReparser again =
          readers.computeIfAbsent(
              Arrays.toString(repair.preamble()),
              key ->
                  new RecordReparser(
                      feed.layout(), repair.preamble(), FeedInputs.of(feed).request()));
      RecordBatch batch = again.read(repair.raw(), reject.reject().context());
      int piece = reject.reject().piece();
      boolean pieces = feed.layout() instanceof JsonLayout json && json.rows().isPresent();
      if (pieces ? batch.records() <= piece : batch.records() != 1) {
        fail(
            repair,
            pieces ? RejectCode.TOO_FEW_FIELDS : RejectCode.TOO_MANY_FIELDS,
            "the repaired text is %d records, one is needed".formatted(batch.records()));
        return;
      }
      bind(repair, again, batch, pieces, writer);
    }

    private void bind(
        Repair repair, RecordReparser again, RecordBatch batch, boolean pieces, RowWriter writer) {
      int first = repair.reject().reject().piece();
      Binder binder;
      try {
        binder =
            new Binder(
                feed.withLayout(again.layout()),
                FieldPlan.of(feed, repair.reject().file().path(), again.names()),
                facts,
                false);
      } catch (Failure failure) {
        fail(repair, RejectCode.TOO_FEW_FIELDS, failure.getMessage());
        return;
      }
      RowBatch rows = binder.newBatch();
      binder.bind(batch, rows);
      int last = pieces && wholeRecord(repair) ? batch.records() - 1 : pieces ? first : 0;
      int from = pieces ? first : 0;
      List<Problem> problems = new ArrayList<>();
      rows.rejects().stream()
          .filter(r -> r.recordNumber() - 1 >= from && r.recordNumber() - 1 <= last)
          .forEach(r -> problems.addAll(r.problems()));
      if (!problems.isEmpty()) {
        fail(repair, problems);
        return;
      }
      write(repair, rows, from, last, writer);
    }

    /** A fault of the whole record counts for all rows that it would have given from there. */
    private boolean wholeRecord(Repair repair) {
      return repair.reject().reject().problems().stream().allMatch(p -> p.column().isEmpty());
    }

    private void write(Repair repair, RowBatch rows, int from, int last, RowWriter writer) {
      long number = repair.reject().reject().recordNumber();
      Set<Integer> good = new HashSet<>();
      for (int i = 0; i < rows.count(); i++) {
        good.add(rows.selected(i));
      }
      mended.add(repair.reject().id());
      byRecord.put(number, repair);
      if (last > from) {
        several.add(repair.reject().id());
      }
      for (int row = from; row <= last; row++) {
        if (good.contains(row)) {
          rows.only(row);
          rows.numberFrom(number - row - 1, 0);
          totals.addGood(rows);
          writer.write(rows);
          sent++;
        } else {
          filtered++;
        }
      }
    }
  }
}
