-- What the sender of a request says of themselves, and how far it is proved: 'unproved', 'address' (by a letter to it) or
-- 'confirmed' (by somebody of the team). Requests from before say nothing here.
ALTER TABLE request ADD COLUMN sender_name TEXT;
ALTER TABLE request ADD COLUMN sender_address TEXT;
ALTER TABLE request ADD COLUMN sender_account TEXT;
ALTER TABLE request ADD COLUMN proof TEXT;
-- Only a hash of the key in the letter is kept.
ALTER TABLE request ADD COLUMN proof_hash TEXT;
CREATE INDEX request_by_proof ON request(proof_hash) WHERE proof_hash IS NOT NULL;

-- How many messages one person got lately.
CREATE INDEX message_to ON message(to_address COLLATE NOCASE, made_at);

-- How much one person put in lately.
CREATE INDEX attachment_by ON attachment(user_id, made_at);
CREATE INDEX incoming_by ON incoming(user_id, at);
