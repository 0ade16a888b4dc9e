-- Up Migration
-- Tables by the trade's names; what they hold stays as it is.
alter table remark rename to staff_note;
alter table staff_note rename column flagged_by to second_look_by;
alter table slip rename to student_statement;
alter table kept_trial rename to saved_trial;
alter table school_turn rename to policy_rollout;
alter table school_turn_book rename to policy_rollout_book;
alter table policy_rollout_book rename column turn to rollout;
alter index school_turn_waits rename to policy_rollout_waits;

-- Down Migration
alter index policy_rollout_waits rename to school_turn_waits;
alter table policy_rollout_book rename column rollout to turn;
alter table policy_rollout_book rename to school_turn_book;
alter table policy_rollout rename to school_turn;
alter table saved_trial rename to kept_trial;
alter table student_statement rename to slip;
alter table staff_note rename column second_look_by to flagged_by;
alter table staff_note rename to remark;
