"""Printing: how parts lie, their layers, what a print takes, what can be measured on it, and coupons."""
