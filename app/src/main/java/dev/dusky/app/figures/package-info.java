/** Numbers, moments and tallies as people and machines read them. */
package dev.dusky.app.figures;
