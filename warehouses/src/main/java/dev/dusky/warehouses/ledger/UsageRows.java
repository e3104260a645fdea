package dev.dusky.warehouses.ledger;

import dev.dusky.core.usage.Request;
import dev.dusky.core.usage.Usage;
import org.jdbi.v3.core.Handle;

/** What loads and merges used, in {@code dusky.usage}. */
public final class UsageRows {

  private UsageRows() {}

  /** Enters what a load used. */
  static void load(Handle handle, long id, Usage usage) {
    insert(handle, "load_id", id, usage);
  }

  /** Enters what a merge used. */
  public static void merge(Handle handle, long id, Usage usage) {
    insert(handle, "merge_id", id, usage);
  }

  private static void insert(Handle handle, String column, long id, Usage usage) {
    handle
        .createUpdate(
            """
            insert into dusky.usage (%s, wall_ms, processor_ms, database_ms, bytes_in, bytes_out,
              list_requests, get_requests, put_requests, copy_requests, delete_requests)
            values (:id, :wall, :processor, :database, :in, :out, :list, :get, :put, :copy,
              :delete)"""
                .formatted(column))
        .bind("id", id)
        .bind("wall", usage.wallMillis())
        .bind("processor", usage.processorMillis())
        .bind("database", usage.databaseMillis())
        .bind("in", usage.bytesIn())
        .bind("out", usage.bytesOut())
        .bind("list", usage.requests().get(Request.LIST))
        .bind("get", usage.requests().get(Request.GET))
        .bind("put", usage.requests().get(Request.PUT))
        .bind("copy", usage.requests().get(Request.COPY))
        .bind("delete", usage.requests().get(Request.DELETE))
        .execute();
  }
}
