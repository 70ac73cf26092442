"""Figures against baselines, each a ratio or a distribution from one run: ./run bench"""
