/**
 * Merges as set-based SQL: {@link dev.dusky.warehouses.merge.MergePlan} is a declared merge held
 * against the real tables, {@link dev.dusky.warehouses.merge.MergeScript} its statements in order.
 * What they have in common with other databases is standard SQL; nothing here touches one.
 */
package dev.dusky.warehouses.merge;
