-- What follows from a description in the program, and by which it was made.
CREATE TABLE derived(
  name TEXT PRIMARY KEY,
  made_by TEXT NOT NULL
) STRICT, WITHOUT ROWID;

-- What search looks through follows from the descriptions of the kinds; the triggers are made from them, as those of the ledger.
DROP TRIGGER IF EXISTS words_finding_insert;
DROP TRIGGER IF EXISTS words_finding_update;
DROP TRIGGER IF EXISTS words_finding_delete;
DROP TRIGGER IF EXISTS words_person_insert;
DROP TRIGGER IF EXISTS words_person_update;
DROP TRIGGER IF EXISTS words_person_delete;
DROP TRIGGER IF EXISTS words_account_insert;
DROP TRIGGER IF EXISTS words_account_update;
DROP TRIGGER IF EXISTS words_account_delete;
DROP TRIGGER IF EXISTS words_objective_insert;
DROP TRIGGER IF EXISTS words_objective_update;
DROP TRIGGER IF EXISTS words_objective_delete;
DROP TRIGGER IF EXISTS words_idea_insert;
DROP TRIGGER IF EXISTS words_idea_update;
DROP TRIGGER IF EXISTS words_idea_delete;
DROP TRIGGER IF EXISTS words_work_item_insert;
DROP TRIGGER IF EXISTS words_work_item_update;
DROP TRIGGER IF EXISTS words_work_item_delete;
DROP TRIGGER IF EXISTS words_release_insert;
DROP TRIGGER IF EXISTS words_release_update;
DROP TRIGGER IF EXISTS words_release_delete;
DROP TRIGGER IF EXISTS words_decision_insert;
DROP TRIGGER IF EXISTS words_decision_update;
DROP TRIGGER IF EXISTS words_decision_delete;
DROP TRIGGER IF EXISTS words_result_insert;
DROP TRIGGER IF EXISTS words_result_update;
DROP TRIGGER IF EXISTS words_result_delete;
DROP TRIGGER IF EXISTS words_criterion_insert;
DROP TRIGGER IF EXISTS words_criterion_update;
DROP TRIGGER IF EXISTS words_criterion_delete;
DROP TRIGGER IF EXISTS words_study_insert;
DROP TRIGGER IF EXISTS words_study_update;
DROP TRIGGER IF EXISTS words_study_delete;
DROP TRIGGER IF EXISTS words_document_insert;
DROP TRIGGER IF EXISTS words_document_update;
DROP TRIGGER IF EXISTS words_document_delete;
DROP TRIGGER IF EXISTS words_sprint_insert;
DROP TRIGGER IF EXISTS words_sprint_update;
DROP TRIGGER IF EXISTS words_sprint_delete;
DROP TRIGGER IF EXISTS words_page_insert;
DROP TRIGGER IF EXISTS words_page_update;
DROP TRIGGER IF EXISTS words_page_delete;
DROP TRIGGER IF EXISTS words_term_insert;
DROP TRIGGER IF EXISTS words_term_update;
DROP TRIGGER IF EXISTS words_term_delete;
DROP TRIGGER IF EXISTS words_increment_insert;
DROP TRIGGER IF EXISTS words_increment_update;
DROP TRIGGER IF EXISTS words_increment_delete;
DROP TRIGGER IF EXISTS words_request_form_insert;
DROP TRIGGER IF EXISTS words_request_form_update;
DROP TRIGGER IF EXISTS words_request_form_delete;
DROP TRIGGER IF EXISTS words_request_insert;
DROP TRIGGER IF EXISTS words_request_update;
DROP TRIGGER IF EXISTS words_request_delete;
DROP TRIGGER IF EXISTS words_competitor_note_insert;
DROP TRIGGER IF EXISTS words_competitor_note_update;
DROP TRIGGER IF EXISTS words_competitor_note_delete;
