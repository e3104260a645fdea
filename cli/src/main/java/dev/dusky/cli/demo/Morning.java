package dev.dusky.cli.demo;

/** The first steps of the full demo: stage, look, draft, load, a late file, the proof. */
final class Morning {

  private final Narration story;

  Morning(Narration story) {
    this.story = story;
  }

  void tell() {
    story.step("Check that depot and warehouse can be reached, with all rights.");
    story.dusky("probe");
    story.step("Put the files into the depot.");
    story.dusky("stage", "yard", "outbox");
    story.step("Look at files before anything is declared: bytes first, then records.");
    story.dusky("peek", "yard:farms/registry-2026-03-01.txt", "--raw", "-n", "3");
    story.dusky("peek", "yard:tankers/fleet-2026-03-01.txt", "-n", "4");
    story.step("Draft feeds for the laboratory's nested JSON: one table for the samples,");
    story.say("one for the rows of their results.");
    story.dusky("draft", "yard:assays/");
    story.step("Draft the other files: CSV, pipes, fixed width, a workbook, Parquet. One type is");
    story.say("given, the others are inferred.");
    story.dusky("draft", "yard:", "--column", "farm_code=varchar(8) not null");
    story.step("List the files of the next load.");
    story.dusky("files", "collections");
    story.step("Peek again, now with the feed and a condition.");
    story.dusky(
        "peek",
        "collections",
        "--where",
        "litres > 9000 and tanker = 'T07'",
        "--columns",
        "docket_no,farm_code,collected_at,litres",
        "-n",
        "4");
    story.step("Load everything. One file was sent twice under another name: it is a twin.");
    story.dusky("load");
    story.step("Some rows were rejected, within the drafted tolerance: which, where and why.");
    story.dusky("rejects", "--list", "4");
    story.step("Load again: every file is settled, so nothing is loaded twice.");
    story.dusky("load");
    story.step("A file of yesterday arrives late. Only that one is loaded.");
    story.dusky("stage", "yard", "late");
    story.dusky("load", "collections");
    story.step("The history of loads.");
    story.dusky("journal");
    story.step("Prove it: compare the ledger with tables, rejects and depot.");
    story.dusky("balance");
    story.step("The warehouse is plain SQL, also the provenance and the ledger.");
    story.dusky(
        "sql",
        "select tanker, count(*) as dockets, sum(litres) as litres from intake.collections"
            + " group by tanker order by litres desc fetch first 3 rows only");
  }
}
