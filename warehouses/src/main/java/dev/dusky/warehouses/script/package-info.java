/** The statements of a merge. They are printed for people, too. */
package dev.dusky.warehouses.script;
