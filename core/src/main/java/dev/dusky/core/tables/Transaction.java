package dev.dusky.core.tables;

/**
 * The unit in which entries of a ledger and changes of tables commit together. A ledger hands it
 * out with a claim; the tables of the same warehouse take part in it. What it is underneath is the
 * implementation's own business.
 */
public interface Transaction {}
