package dev.dusky.core.dispatch;

import dev.dusky.core.drift.Drift;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.repeat.Place;
import dev.dusky.core.repeat.RepeatRuns;
import dev.dusky.core.tally.ControlTotal;
import dev.dusky.core.tally.Tally;
import java.io.IOException;
import java.math.BigDecimal;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A file's outcome as bytes. Another machine knows no twins. */
final class OutcomeForm {

  private OutcomeForm() {}

  static void write(FileOutcome outcome, Form.Output out) throws IOException {
    out.text(outcome.state().name());
    Tally tally = outcome.tally();
    for (long count :
        new long[] {
          tally.read(),
          tally.loaded(),
          tally.duplicate(),
          tally.rejected(),
          tally.filtered(),
          tally.withheld(),
          outcome.storedBytes(),
          outcome.contentBytes(),
          outcome.elapsed().toNanos()
        }) {
      out.data().writeLong(count);
    }
    out.optional(outcome.fingerprint(), out::text);
    out.text(outcome.message());
    out.bytes(outcome.preamble());
    out.optional(outcome.expectedRows(), out.data()::writeLong);
    out.all(
        outcome.totals(),
        total -> {
          out.text(total.column());
          out.text(total.loaded().toString());
          out.text(total.others().toString());
          out.text(total.duplicate().toString());
          out.optional(total.expected(), expected -> out.text(expected.toString()));
        });
    out.all(
        outcome.nulls().entrySet(),
        nulls -> {
          out.text(nulls.getKey());
          out.data().writeLong(nulls.getValue());
        });
    write(outcome.repeats(), out);
    out.all(
        outcome.drifts(),
        drift -> {
          out.text(drift.field());
          out.text(drift.change().name());
          out.text(drift.seen());
          out.text(drift.action().name());
          out.data().writeLong(drift.records());
          out.text(drift.example());
          out.optional(drift.statement(), out::text);
          out.text(drift.remark());
        });
  }

  static FileOutcome read(Form.Input in) throws IOException {
    FileState state = FileState.valueOf(in.text());
    Tally tally =
        new Tally(
            in.data().readLong(),
            in.data().readLong(),
            in.data().readLong(),
            in.data().readLong(),
            in.data().readLong(),
            in.data().readLong());
    long stored = in.data().readLong();
    long content = in.data().readLong();
    Duration elapsed = Duration.ofNanos(in.data().readLong());
    Optional<String> fingerprint = in.optional(in::text);
    String message = in.text();
    byte[] preamble = in.bytes();
    Optional<Long> expected = in.optional(in.data()::readLong);
    List<ControlTotal> totals =
        in.all(
            () ->
                new ControlTotal(
                    in.text(),
                    new BigDecimal(in.text()),
                    new BigDecimal(in.text()),
                    new BigDecimal(in.text()),
                    in.optional(() -> new BigDecimal(in.text()))));
    Map<String, Long> nulls = new HashMap<>();
    in.all(() -> nulls.put(in.text(), in.data().readLong()));
    FileOutcome.Repeats repeats = repeats(in);
    List<Drift> drifts =
        in.all(
            () ->
                new Drift(
                    in.text(),
                    Drift.Change.valueOf(in.text()),
                    in.text(),
                    Drift.Action.valueOf(in.text()),
                    in.data().readLong(),
                    in.text(),
                    in.optional(in::text),
                    in.text()));
    return new FileOutcome(
        state,
        tally,
        stored,
        content,
        fingerprint,
        elapsed,
        Optional.empty(),
        message,
        preamble,
        expected,
        totals,
        nulls,
        repeats,
        drifts);
  }

  private static void write(FileOutcome.Repeats repeats, Form.Output out) throws IOException {
    out.optional(repeats.seen(), out.data()::writeLong);
    Optional<List<long[]>> all = Optional.ofNullable(repeats.left()).map(OutcomeForm::runs);
    out.optional(
        all,
        left ->
            out.all(
                left,
                run -> {
                  for (long number : run) {
                    out.data().writeLong(number);
                  }
                }));
    boolean none = all.map(List::isEmpty).orElse(true);
    out.all(none ? List.<Long>of() : repeats.files(), out.data()::writeLong);
  }

  private static List<long[]> runs(RepeatRuns left) {
    List<long[]> runs = new ArrayList<>();
    left.forEach(
        (first, count, file, record) ->
            runs.add(new long[] {first, count, Place.of(file, record)}));
    return runs;
  }

  private static FileOutcome.Repeats repeats(Form.Input in) throws IOException {
    Optional<Long> seen = in.optional(in.data()::readLong);
    Optional<RepeatRuns> left =
        in.optional(
            () -> {
              RepeatRuns runs = new RepeatRuns();
              in.all(
                  () -> {
                    long first = in.data().readLong();
                    long count = in.data().readLong();
                    long place = in.data().readLong();
                    for (long i = 0; i < count; i++) {
                      runs.add(first + i, place + i);
                    }
                    return count;
                  });
              return runs;
            });
    return new FileOutcome.Repeats(seen, left.orElse(null), in.all(in.data()::readLong));
  }
}
