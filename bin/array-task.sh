#!/bin/sh
# What a batch system runs for each task of an array: the frame is the index and a shift, and all else is handed on as it is.
# `exec`: signals of the batch system reach the node itself.
shift_by=$1
shift
exec "$@" --frame "$((SLURM_ARRAY_TASK_ID + shift_by))"
