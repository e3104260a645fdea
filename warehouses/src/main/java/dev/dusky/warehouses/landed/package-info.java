/** Later changes of landed rows: reversals and promotions. */
package dev.dusky.warehouses.landed;
