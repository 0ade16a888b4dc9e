--
-- PostgreSQL database dump
--


-- Dumped from database version 15.18 (Debian 15.18-0+deb12u1)
-- Dumped by pg_dump version 15.18 (Debian 15.18-0+deb12u1)

SET statement_timeout = 0;
SET lock_timeout = 0;
SET idle_in_transaction_session_timeout = 0;
SET client_encoding = 'UTF8';
SET standard_conforming_strings = on;
SELECT pg_catalog.set_config('search_path', '', false);
SET check_function_bodies = false;
SET xmloption = content;
SET client_min_messages = warning;
SET row_security = off;

--
-- Name: batch_undone(text, text, text); Type: FUNCTION; Schema: public; Owner: -
--

CREATE FUNCTION public.batch_undone(of_school text, of_book text, of_batch text) RETURNS boolean
    LANGUAGE plpgsql STABLE
    AS $$
begin
  return exists (
    select 1 from batch u
    where u.school = of_school and u.book = of_book and u.undoes = of_batch
      and not batch_undone(of_school, of_book, u.id));
end $$;


--
-- Name: journal_stands(); Type: FUNCTION; Schema: public; Owner: -
--

CREATE FUNCTION public.journal_stands() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  raise exception 'journal lines are never altered' using errcode = 'restrict_violation';
end $$;


--
-- Name: school_rules_stand(); Type: FUNCTION; Schema: public; Owner: -
--

CREATE FUNCTION public.school_rules_stand() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  raise exception 'versions of the rules of a school are never altered' using errcode = 'restrict_violation';
end $$;


--
-- Name: tell_book(); Type: FUNCTION; Schema: public; Owner: -
--

CREATE FUNCTION public.tell_book() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  perform pg_notify('book', new.school || ' ' || new.id || ' ' || new.seq);
  return null;
end $$;


--
-- Name: tell_presence(); Type: FUNCTION; Schema: public; Owner: -
--

CREATE FUNCTION public.tell_presence() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
begin
  perform pg_notify('presence', coalesce(new.school, old.school) || ' ' || coalesce(new.book, old.book));
  return null;
end $$;


SET default_tablespace = '';

SET default_table_access_method = heap;

--
-- Name: assessment; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.assessment (
    school text NOT NULL,
    book text NOT NULL,
    id text NOT NULL,
    title text NOT NULL,
    category text NOT NULL,
    "position" integer NOT NULL,
    points numeric(14,4) NOT NULL,
    due timestamp with time zone,
    closes timestamp with time zone,
    takes_work boolean DEFAULT false NOT NULL,
    shown boolean DEFAULT true NOT NULL,
    more text DEFAULT '{}'::text NOT NULL,
    version integer DEFAULT 1 NOT NULL,
    archived_at timestamp with time zone,
    CONSTRAINT assessment_points_check CHECK ((points >= (0)::numeric)),
    CONSTRAINT assessment_title_check CHECK ((title <> ''::text))
);


--
-- Name: attempt; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.attempt (
    school text NOT NULL,
    book text NOT NULL,
    assessment text NOT NULL,
    enrolment text NOT NULL,
    number integer NOT NULL,
    score numeric(14,4),
    mark text,
    received_at timestamp with time zone,
    on_time boolean DEFAULT false NOT NULL,
    late_units integer,
    handed_in boolean DEFAULT false NOT NULL,
    CONSTRAINT attempt_check CHECK (((score IS NULL) OR (mark IS NULL))),
    CONSTRAINT attempt_late_units_check CHECK ((late_units >= 0)),
    CONSTRAINT attempt_number_check CHECK ((number >= 1)),
    CONSTRAINT attempt_score_check CHECK ((score >= (0)::numeric))
)
WITH (fillfactor='80');


--
-- Name: batch; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.batch (
    school text NOT NULL,
    book text NOT NULL,
    id text NOT NULL,
    kind text NOT NULL,
    title text NOT NULL,
    made_at timestamp with time zone DEFAULT clock_timestamp() NOT NULL,
    made_by text NOT NULL,
    cells integer NOT NULL,
    undoes text,
    CONSTRAINT batch_kind_check CHECK ((kind = ANY (ARRAY['intake'::text, 'paste'::text, 'fill'::text, 'clear'::text, 'change'::text, 'exception'::text, 'undo'::text, 'redo'::text, 'restore'::text])))
);


--
-- Name: book; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.book (
    school text NOT NULL,
    id text NOT NULL,
    term text NOT NULL,
    title text NOT NULL,
    shows_standing boolean DEFAULT false NOT NULL,
    seq integer DEFAULT 0 NOT NULL,
    rules_version integer DEFAULT 0 NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    time_zone text,
    archived_at timestamp with time zone,
    CONSTRAINT book_title_check CHECK ((title <> ''::text))
);


--
-- Name: book_staff; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.book_staff (
    school text NOT NULL,
    book text NOT NULL,
    person text NOT NULL,
    role text NOT NULL,
    CONSTRAINT book_staff_role_check CHECK ((role = ANY (ARRAY['teacher'::text, 'co-teacher'::text, 'marker'::text, 'reviewer'::text])))
);


--
-- Name: enrolment; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.enrolment (
    school text NOT NULL,
    book text NOT NULL,
    id text NOT NULL,
    person text NOT NULL,
    section text,
    extra_time_hours numeric(14,4) DEFAULT 0 NOT NULL,
    entered_at timestamp with time zone DEFAULT now() NOT NULL,
    left_at timestamp with time zone,
    CONSTRAINT enrolment_extra_time_hours_check CHECK ((extra_time_hours >= (0)::numeric))
);


--
-- Name: entry; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.entry (
    school text NOT NULL,
    book text NOT NULL,
    assessment text NOT NULL,
    enrolment text NOT NULL,
    version integer NOT NULL,
    state text,
    due_at timestamp with time zone,
    closes_at timestamp with time zone,
    late_allowances integer,
    set_points numeric(14,4),
    protected boolean DEFAULT false NOT NULL,
    CONSTRAINT entry_late_allowances_check CHECK (((late_allowances >= 1) AND (late_allowances <= 1000))),
    CONSTRAINT entry_set_points_check CHECK ((set_points >= (0)::numeric)),
    CONSTRAINT entry_state_check CHECK ((state = ANY (ARRAY['excused'::text, 'missing'::text, 'awaiting'::text])))
)
WITH (fillfactor='80');


--
-- Name: exception_end; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.exception_end (
    school text NOT NULL,
    book text NOT NULL,
    enrolment text NOT NULL,
    place text NOT NULL,
    kind text NOT NULL,
    until timestamp with time zone NOT NULL,
    set_by text NOT NULL,
    set_at timestamp with time zone DEFAULT clock_timestamp() NOT NULL
);


--
-- Name: invitation; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.invitation (
    hash text NOT NULL,
    school text NOT NULL,
    person text NOT NULL,
    made_by text NOT NULL,
    expires_at timestamp with time zone NOT NULL
);


--
-- Name: journal; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.journal (
    school text NOT NULL,
    book text NOT NULL,
    seq integer NOT NULL,
    batch text NOT NULL,
    operation text NOT NULL,
    at timestamp with time zone DEFAULT clock_timestamp() NOT NULL,
    person text NOT NULL,
    kind text NOT NULL,
    assessment text,
    enrolment text,
    was text,
    becomes text
);


--
-- Name: journal_reason; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.journal_reason (
    school text NOT NULL,
    book text NOT NULL,
    batch text NOT NULL,
    reason text NOT NULL
);


--
-- Name: journal_seal; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.journal_seal (
    school text NOT NULL,
    book text NOT NULL,
    block integer NOT NULL,
    first_seq integer NOT NULL,
    last_seq integer NOT NULL,
    hash text NOT NULL,
    sealed_at timestamp with time zone DEFAULT clock_timestamp() NOT NULL,
    CONSTRAINT journal_seal_block_check CHECK ((block >= 1)),
    CONSTRAINT journal_seal_check CHECK ((last_seq >= first_seq))
);


--
-- Name: kept_trial; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.kept_trial (
    school text NOT NULL,
    book text NOT NULL,
    person text NOT NULL,
    id text NOT NULL,
    title text NOT NULL,
    body text NOT NULL,
    made_at timestamp with time zone DEFAULT clock_timestamp() NOT NULL,
    CONSTRAINT kept_trial_title_check CHECK ((title <> ''::text))
);


--
-- Name: last_visit; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.last_visit (
    school text NOT NULL,
    book text NOT NULL,
    person text NOT NULL,
    since_seq integer NOT NULL,
    since_at timestamp with time zone NOT NULL,
    seq integer NOT NULL,
    at timestamp with time zone DEFAULT clock_timestamp() NOT NULL
);


--
-- Name: migration; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.migration (
    id integer NOT NULL,
    name character varying(255) NOT NULL,
    run_on timestamp without time zone NOT NULL
);


--
-- Name: migration_id_seq; Type: SEQUENCE; Schema: public; Owner: -
--

CREATE SEQUENCE public.migration_id_seq
    AS integer
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;


--
-- Name: migration_id_seq; Type: SEQUENCE OWNED BY; Schema: public; Owner: -
--

ALTER SEQUENCE public.migration_id_seq OWNED BY public.migration.id;


--
-- Name: note_text; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.note_text (
    school text NOT NULL,
    book text NOT NULL,
    id text NOT NULL,
    body text NOT NULL,
    written_at timestamp with time zone DEFAULT clock_timestamp() NOT NULL,
    written_by text NOT NULL
);


--
-- Name: notice; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.notice (
    school text NOT NULL,
    id text NOT NULL,
    book text NOT NULL,
    enrolment text NOT NULL,
    at timestamp with time zone DEFAULT clock_timestamp() NOT NULL,
    body text NOT NULL,
    seen_at timestamp with time zone,
    CONSTRAINT notice_body_check CHECK ((body <> ''::text))
);


--
-- Name: override; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.override (
    school text NOT NULL,
    book text NOT NULL,
    enrolment text NOT NULL,
    version integer NOT NULL,
    percent numeric(14,4),
    letter text,
    CONSTRAINT override_letter_check CHECK ((letter <> ''::text)),
    CONSTRAINT override_percent_check CHECK ((percent >= (0)::numeric))
);


--
-- Name: person; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.person (
    school text NOT NULL,
    id text NOT NULL,
    login text NOT NULL,
    family text NOT NULL,
    given text DEFAULT ''::text NOT NULL,
    number text DEFAULT ''::text NOT NULL,
    mail text DEFAULT ''::text NOT NULL,
    role text NOT NULL,
    password_hash text,
    active boolean DEFAULT true NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT person_family_check CHECK ((family <> ''::text)),
    CONSTRAINT person_login_check CHECK (((login = lower(login)) AND (login <> ''::text))),
    CONSTRAINT person_role_check CHECK ((role = ANY (ARRAY['administrator'::text, 'staff'::text, 'student'::text])))
);


--
-- Name: presence; Type: TABLE; Schema: public; Owner: -
--

CREATE UNLOGGED TABLE public.presence (
    connection text NOT NULL,
    school text NOT NULL,
    book text NOT NULL,
    person text NOT NULL,
    enrolment text,
    assessment text,
    at timestamp with time zone DEFAULT clock_timestamp() NOT NULL
);


--
-- Name: rehearsal; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.rehearsal (
    school text NOT NULL,
    book text NOT NULL,
    person text NOT NULL,
    body text NOT NULL
);


--
-- Name: released_entry; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.released_entry (
    school text NOT NULL,
    book text NOT NULL,
    enrolment text NOT NULL,
    assessment text NOT NULL,
    entry text NOT NULL,
    entry_version integer NOT NULL,
    released_at timestamp with time zone NOT NULL,
    released_by text NOT NULL,
    withdrawn_at timestamp with time zone
);


--
-- Name: released_skeleton; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.released_skeleton (
    school text NOT NULL,
    book text NOT NULL,
    id text NOT NULL,
    skeleton text NOT NULL,
    rules_version integer NOT NULL
);


--
-- Name: remark; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.remark (
    school text NOT NULL,
    book text NOT NULL,
    enrolment text NOT NULL,
    place text NOT NULL,
    version integer NOT NULL,
    note text,
    flagged_by text
);


--
-- Name: rules_version; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.rules_version (
    school text NOT NULL,
    book text NOT NULL,
    version integer NOT NULL,
    rules text NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    made_by text NOT NULL,
    reason text DEFAULT ''::text NOT NULL
);


--
-- Name: saved_view; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.saved_view (
    school text NOT NULL,
    book text NOT NULL,
    person text NOT NULL,
    id text NOT NULL,
    title text NOT NULL,
    query text NOT NULL,
    CONSTRAINT saved_view_title_check CHECK ((title <> ''::text))
);


--
-- Name: school; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.school (
    id text NOT NULL,
    title text NOT NULL,
    time_zone text NOT NULL,
    fixed_now timestamp with time zone,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    wants_reasons boolean DEFAULT false NOT NULL,
    CONSTRAINT school_title_check CHECK ((title <> ''::text))
);


--
-- Name: school_rules; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.school_rules (
    school text NOT NULL,
    version integer NOT NULL,
    operation text NOT NULL,
    body text NOT NULL,
    made_at timestamp with time zone DEFAULT clock_timestamp() NOT NULL,
    made_by text NOT NULL,
    reason text NOT NULL,
    CONSTRAINT school_rules_reason_check CHECK ((reason <> ''::text)),
    CONSTRAINT school_rules_version_check CHECK ((version >= 1))
);


--
-- Name: school_turn; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.school_turn (
    school text NOT NULL,
    id text NOT NULL,
    kind text NOT NULL,
    person text NOT NULL,
    version integer NOT NULL,
    makes integer,
    body text NOT NULL,
    made_at timestamp with time zone DEFAULT clock_timestamp() NOT NULL,
    CONSTRAINT school_turn_kind_check CHECK ((kind = ANY (ARRAY['trial'::text, 'make'::text])))
);


--
-- Name: school_turn_book; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.school_turn_book (
    school text NOT NULL,
    turn text NOT NULL,
    book text NOT NULL,
    "position" integer NOT NULL,
    answer text,
    movers text
);


--
-- Name: section; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.section (
    school text NOT NULL,
    book text NOT NULL,
    id text NOT NULL,
    title text NOT NULL,
    "position" integer NOT NULL,
    CONSTRAINT section_title_check CHECK ((title <> ''::text))
);


--
-- Name: session; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.session (
    sid text NOT NULL,
    sess json NOT NULL,
    expire timestamp with time zone NOT NULL
);


--
-- Name: sign_in_failure; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.sign_in_failure (
    key character varying(255) NOT NULL,
    points integer DEFAULT 0 NOT NULL,
    expire bigint
);


--
-- Name: slip; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.slip (
    school text NOT NULL,
    book text NOT NULL,
    enrolment text NOT NULL,
    skeleton text NOT NULL,
    body text NOT NULL,
    made_at timestamp with time zone NOT NULL
);


--
-- Name: stay; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.stay (
    school text NOT NULL,
    book text NOT NULL,
    enrolment text NOT NULL,
    number integer NOT NULL,
    section text,
    since timestamp with time zone DEFAULT clock_timestamp() NOT NULL,
    until timestamp with time zone,
    CONSTRAINT stay_number_check CHECK ((number >= 1))
);


--
-- Name: student_group; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.student_group (
    school text NOT NULL,
    book text NOT NULL,
    id text NOT NULL,
    title text NOT NULL,
    version integer DEFAULT 1 NOT NULL,
    CONSTRAINT student_group_title_check CHECK ((title <> ''::text))
);


--
-- Name: student_group_member; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.student_group_member (
    school text NOT NULL,
    book text NOT NULL,
    student_group text NOT NULL,
    enrolment text NOT NULL
);


--
-- Name: template; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.template (
    school text NOT NULL,
    person text NOT NULL,
    id text NOT NULL,
    title text NOT NULL,
    body text NOT NULL,
    CONSTRAINT template_title_check CHECK ((title <> ''::text))
);


--
-- Name: term; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.term (
    school text NOT NULL,
    id text NOT NULL,
    title text NOT NULL,
    starts date NOT NULL,
    ends date NOT NULL,
    CONSTRAINT term_check CHECK ((ends >= starts)),
    CONSTRAINT term_title_check CHECK ((title <> ''::text))
);


--
-- Name: migration id; Type: DEFAULT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.migration ALTER COLUMN id SET DEFAULT nextval('public.migration_id_seq'::regclass);


--
-- Data for Name: assessment; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.assessment VALUES ('tarn', 'fens', 'moss', 'Moss', 'work', 1, 20.0000, '2026-10-10 16:00:00+00', NULL, false, true, '{}', 1, NULL);
INSERT INTO public.assessment VALUES ('tarn', 'fens', 'reed', 'Reed', 'work', 2, 10.0000, '2026-11-10 17:00:00+00', NULL, false, true, '{}', 1, NULL);
INSERT INTO public.assessment VALUES ('tarn', 'fens', 'test', 'Test', 'tests', 3, 50.0000, '2026-12-10 17:00:00+00', NULL, false, true, '{}', 1, NULL);


--
-- Data for Name: attempt; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.attempt VALUES ('tarn', 'fens', 'moss', 's-dbf05762613347ddbbec', 1, 11.5000, NULL, NULL, false, NULL, false);
INSERT INTO public.attempt VALUES ('tarn', 'fens', 'moss', 's-ac649795356c4173814f', 1, 16.0000, NULL, NULL, false, NULL, false);


--
-- Data for Name: batch; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Data for Name: book; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.book VALUES ('tarn', 'hills', 'autumn', 'Hills', false, 2, 1, '2026-11-27 18:30:57.702663+00', NULL, NULL);
INSERT INTO public.book VALUES ('tarn', 'fens', 'autumn', 'Fens', true, 17, 1, '2026-11-27 18:30:57.638811+00', NULL, NULL);


--
-- Data for Name: book_staff; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.book_staff VALUES ('tarn', 'fens', 'p-2ad3a4568c844ddf9e5e', 'teacher');
INSERT INTO public.book_staff VALUES ('tarn', 'fens', 'p-1bbdf85b296c4754968f', 'co-teacher');
INSERT INTO public.book_staff VALUES ('tarn', 'fens', 'p-88fbaeb198d84826b016', 'marker');
INSERT INTO public.book_staff VALUES ('tarn', 'fens', 'p-34d540a775ea4013813d', 'reviewer');
INSERT INTO public.book_staff VALUES ('tarn', 'hills', 'p-725c57c2292147e8a2ea', 'teacher');


--
-- Data for Name: enrolment; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.enrolment VALUES ('tarn', 'fens', 's-dbf05762613347ddbbec', 'p-3b732545affd4353b76f', 'north', 0.0000, '2026-11-27 18:30:57.741842+00', NULL);
INSERT INTO public.enrolment VALUES ('tarn', 'fens', 's-65fba77e1b0942c89cff', 'p-66782ae353d445699ec3', 'north', 0.0000, '2026-11-27 18:30:57.741842+00', NULL);
INSERT INTO public.enrolment VALUES ('tarn', 'fens', 's-ac649795356c4173814f', 'p-9f920a46c1d248eb8a76', 'north', 0.0000, '2026-11-27 18:30:57.741842+00', NULL);
INSERT INTO public.enrolment VALUES ('tarn', 'hills', 's-b01c82faefcb410cbc09', 'p-cf0ad023151a4732a574', NULL, 0.0000, '2026-11-27 18:30:57.77149+00', NULL);


--
-- Data for Name: entry; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.entry VALUES ('tarn', 'fens', 'moss', 's-dbf05762613347ddbbec', 1, NULL, NULL, NULL, NULL, NULL, false);
INSERT INTO public.entry VALUES ('tarn', 'fens', 'reed', 's-ac649795356c4173814f', 1, 'excused', NULL, NULL, NULL, NULL, false);
INSERT INTO public.entry VALUES ('tarn', 'fens', 'moss', 's-ac649795356c4173814f', 2, NULL, NULL, NULL, NULL, NULL, false);


--
-- Data for Name: exception_end; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Data for Name: invitation; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Data for Name: journal; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.journal VALUES ('tarn', 'fens', 1, 'b-2131cf96010344eaad5a', 'made-fens', '2026-11-27 18:30:57.68238+00', 'p-a864fadf4c544a5fbd3d', 'book', NULL, NULL, NULL, '{"rules":{"blank":"usual","late":"steady","rounding":{"decimals":1,"mode":"half-up"},"rules":{"blank":{"usual":{"afterDue":{"percent":0},"beforeDue":"skip"}},"late":{"steady":{"deduct":10,"graceMinutes":15,"max":50,"unit":"day"}},"scales":{"letters":{"bands":[{"from":80,"label":"A"},{"from":50,"label":"B"},{"from":0,"label":"F"}]}}},"scale":"letters","tree":{"children":[{"children":[],"combine":"points","id":"work","info":{"title":"Field work"},"type":"group","weight":60},{"children":[],"combine":"points","id":"tests","info":{"title":"Tests"},"type":"group","weight":40}],"combine":"weights","id":"all","type":"group"}},"title":"Fens"}');
INSERT INTO public.journal VALUES ('tarn', 'hills', 1, 'b-741e01ef44b64a1586a3', 'made-hills', '2026-11-27 18:30:57.716717+00', 'p-a864fadf4c544a5fbd3d', 'book', NULL, NULL, NULL, '{"rules":{"blank":"usual","late":"steady","rounding":{"decimals":1,"mode":"half-up"},"rules":{"blank":{"usual":{"afterDue":{"percent":0},"beforeDue":"skip"}},"late":{"steady":{"deduct":10,"graceMinutes":15,"max":50,"unit":"day"}},"scales":{"letters":{"bands":[{"from":80,"label":"A"},{"from":50,"label":"B"},{"from":0,"label":"F"}]}}},"scale":"letters","tree":{"children":[{"children":[],"combine":"points","id":"work","info":{"title":"Field work"},"type":"group","weight":60},{"children":[],"combine":"points","id":"tests","info":{"title":"Tests"},"type":"group","weight":40}],"combine":"weights","id":"all","type":"group"}},"title":"Hills"}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 2, 'b-c85e2d6a8b124a28a18f', 'enrol-s-dbf05762613347ddbbec', '2026-11-27 18:30:57.754651+00', 'p-a864fadf4c544a5fbd3d', 'enrol', NULL, 's-dbf05762613347ddbbec', NULL, '{"extraTimeHours":0,"left":false,"section":"north"}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 3, 'b-c85e2d6a8b124a28a18f', 'enrol-s-65fba77e1b0942c89cff', '2026-11-27 18:30:57.754725+00', 'p-a864fadf4c544a5fbd3d', 'enrol', NULL, 's-65fba77e1b0942c89cff', NULL, '{"extraTimeHours":0,"left":false,"section":"north"}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 4, 'b-c85e2d6a8b124a28a18f', 'enrol-s-ac649795356c4173814f', '2026-11-27 18:30:57.754743+00', 'p-a864fadf4c544a5fbd3d', 'enrol', NULL, 's-ac649795356c4173814f', NULL, '{"extraTimeHours":0,"left":false,"section":"north"}');
INSERT INTO public.journal VALUES ('tarn', 'hills', 2, 'b-82f90def6e534cb79cca', 'enrol-s-b01c82faefcb410cbc09', '2026-11-27 18:30:57.778245+00', 'p-a864fadf4c544a5fbd3d', 'enrol', NULL, 's-b01c82faefcb410cbc09', NULL, '{"extraTimeHours":0,"left":false,"section":null}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 5, 'b-f0df2313688643418e13', '01a21e46-5f23-768c-819d-7373e3e4ad7b', '2026-11-27 18:30:58.142894+00', 'p-2ad3a4568c844ddf9e5e', 'assessment', 'moss', NULL, NULL, '{"category":"work","closes":null,"due":"2026-10-10T16:00:00Z","id":"moss","more":{},"points":20,"takesWork":false,"title":"Moss"}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 6, 'b-6aa6fb9432574cc59685', '01a21e46-5f60-7056-a191-1e27ace28e67', '2026-11-27 18:30:58.160974+00', 'p-2ad3a4568c844ddf9e5e', 'assessment', 'reed', NULL, NULL, '{"category":"work","closes":null,"due":"2026-11-10T17:00:00Z","id":"reed","more":{},"points":10,"takesWork":false,"title":"Reed"}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 7, 'b-e5a1bf4f459244fdbf89', '01a21e46-5f72-7481-a218-cf851b4ca566', '2026-11-27 18:30:58.193077+00', 'p-2ad3a4568c844ddf9e5e', 'assessment', 'test', NULL, NULL, '{"category":"tests","closes":null,"due":"2026-12-10T17:00:00Z","id":"test","more":{},"points":50,"takesWork":false,"title":"Test"}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 8, 'l-000000008', '01a21e46-5f92-7728-ba6e-8fb3026cc953', '2026-11-27 18:30:58.287908+00', 'p-2ad3a4568c844ddf9e5e', 'cell', 'moss', 's-ac649795356c4173814f', '{}', '{"attempts":[{"score":15}]}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 9, 'l-000000009', '01a21e46-6000-75ce-985b-29925f2414bb', '2026-11-27 18:30:58.32193+00', 'p-2ad3a4568c844ddf9e5e', 'cell', 'moss', 's-dbf05762613347ddbbec', '{}', '{"attempts":[{"score":11.5}]}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 10, 'b-ef423afae099434381c1', '01a21e46-6013-741a-a9a8-4ce41a8bf9d4', '2026-11-27 18:30:58.349968+00', 'p-2ad3a4568c844ddf9e5e', 'cell', 'reed', 's-ac649795356c4173814f', '{}', '{"state":"excused"}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 11, 'b-07a4996b01b7422680e6', '3e890b10-a001-4695-b571-278ae2c09e63', '2026-11-27 18:30:58.374991+00', 'p-2ad3a4568c844ddf9e5e', 'settings', NULL, NULL, '{"showsStanding":false}', '{"showsStanding":true}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 12, 'b-c9167f057c6a40858ea2', '01a21e46-6048-7076-8370-1bc88843016d', '2026-11-27 18:30:58.44581+00', 'p-2ad3a4568c844ddf9e5e', 'release', 'moss', 's-65fba77e1b0942c89cff', NULL, '{}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 13, 'b-c9167f057c6a40858ea2', '01a21e46-6048-7076-8370-1bc88843016d.1', '2026-11-27 18:30:58.445865+00', 'p-2ad3a4568c844ddf9e5e', 'release', 'moss', 's-ac649795356c4173814f', NULL, '{"attempts":[{"score":15}]}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 14, 'b-c9167f057c6a40858ea2', '01a21e46-6048-7076-8370-1bc88843016d.2', '2026-11-27 18:30:58.445887+00', 'p-2ad3a4568c844ddf9e5e', 'release', 'moss', 's-dbf05762613347ddbbec', NULL, '{"attempts":[{"score":11.5}]}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 15, 'l-000000015', '01a21e46-6090-716c-aae8-947e82dd8ce8', '2026-11-27 18:30:58.453087+00', 'p-2ad3a4568c844ddf9e5e', 'cell', 'moss', 's-ac649795356c4173814f', '{"attempts":[{"score":15}]}', '{"attempts":[{"score":16}]}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 16, 'b-72f5490a065d4436acf2', 'd8743583-3aa2-4d22-b6bd-e2b5d017f79a', '2026-11-27 18:30:58.463155+00', 'p-2ad3a4568c844ddf9e5e', 'note', 'moss', 's-ac649795356c4173814f', '{}', '{"flag":"p-2ad3a4568c844ddf9e5e","note":"n-6524f23445c84f119d3a"}');
INSERT INTO public.journal VALUES ('tarn', 'fens', 17, 'b-2f7f7b7bd94c40948885', 'ed9dacc6-b128-42c4-9cda-bed19ce1c21b', '2026-11-27 18:30:58.492707+00', 'p-2ad3a4568c844ddf9e5e', 'group', NULL, NULL, NULL, '{"id":"crew","members":["s-ac649795356c4173814f","s-dbf05762613347ddbbec"],"title":"Boat crew"}');


--
-- Data for Name: journal_reason; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Data for Name: journal_seal; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.journal_seal VALUES ('tarn', 'hills', 1, 1, 2, 'fab515d6cdbc4ff8fb47affbac9b1ddb39c03d5181725b8bf64b78c1bf207d07', '2026-11-27 18:30:58.641675+00');
INSERT INTO public.journal_seal VALUES ('tarn', 'fens', 1, 1, 17, '58c072d2fc69f96ff75c76a6d4bde7aae96e6e868c1eba0c35f51394275c0be0', '2026-11-27 18:30:58.646154+00');


--
-- Data for Name: kept_trial; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.kept_trial VALUES ('tarn', 'fens', 'p-2ad3a4568c844ddf9e5e', 't-1', 'Finer', '{"version":1,"rules":{"rules":{"late":{"steady":{"unit":"day","deduct":10,"max":50,"graceMinutes":15}},"blank":{"usual":{"beforeDue":"skip","afterDue":{"percent":0}}},"scales":{"letters":{"bands":[{"label":"A","from":80},{"label":"B","from":50},{"label":"F","from":0}]}}},"tree":{"id":"all","type":"group","combine":"weights","children":[{"id":"work","type":"group","combine":"points","weight":60,"children":[],"info":{"title":"Field work"}},{"id":"tests","type":"group","combine":"points","weight":40,"children":[],"info":{"title":"Tests"}}]},"blank":"usual","late":"steady","scale":"letters","rounding":{"decimals":2,"mode":"half-up"}},"items":{},"supposed":[{"says":"Moss, 1 student: raised","cells":[{"student":"s-ac649795356c4173814f","item":"moss","version":2,"change":{"kind":"score","points":18}}]}]}', '2026-11-27 18:30:58.585775+00');


--
-- Data for Name: last_visit; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Data for Name: migration; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.migration VALUES (1, '0001_school', '2026-11-27 18:30:51.063867');
INSERT INTO public.migration VALUES (2, '0002_book', '2026-11-27 18:30:51.078894');
INSERT INTO public.migration VALUES (3, '0003_journal', '2026-11-27 18:30:51.102776');
INSERT INTO public.migration VALUES (4, '0004_release', '2026-11-27 18:30:51.116275');
INSERT INTO public.migration VALUES (5, '0005_working', '2026-11-27 18:30:51.122459');
INSERT INTO public.migration VALUES (6, '0006_undone', '2026-11-27 18:30:51.138894');
INSERT INTO public.migration VALUES (7, '0007_term', '2026-11-27 18:30:51.140519');
INSERT INTO public.migration VALUES (8, '0008_rehearsal', '2026-11-27 18:30:51.154053');
INSERT INTO public.migration VALUES (9, '0009_trials', '2026-11-27 18:30:51.159044');
INSERT INTO public.migration VALUES (10, '0010_reviewer', '2026-11-27 18:30:51.164203');
INSERT INTO public.migration VALUES (11, '0011_school_rules', '2026-11-27 18:30:51.166683');
INSERT INTO public.migration VALUES (12, '0012_room', '2026-11-27 18:30:51.184589');


--
-- Data for Name: note_text; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.note_text VALUES ('tarn', 'fens', 'n-6524f23445c84f119d3a', 'Ask about the second pit.', '2026-11-27 18:30:58.461116+00', 'p-2ad3a4568c844ddf9e5e');


--
-- Data for Name: notice; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Data for Name: override; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Data for Name: person; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.person VALUES ('tarn', 'p-a864fadf4c544a5fbd3d', 'office', 'Office', 'Una', '', '', 'administrator', '$argon2id$v=19$m=19456,t=2,p=1$EG5NYS3pumRoXCWbLM+5Iw$Cr5BKgdCqA9Syl0dfB1QSydlOzhTlsL2NUpiRgeNQg0', true, '2026-11-27 18:30:57.093901+00');
INSERT INTO public.person VALUES ('tarn', 'p-2ad3a4568c844ddf9e5e', 'teacher', 'teacher', 'Staff', '', '', 'staff', '$argon2id$v=19$m=19456,t=2,p=1$kEzzmqN3+k7GZ9azGFDm6Q$YE2wUIXewfPF2HhzRgKakXpmIYJCMp9ZeUxZyEMwRvs', true, '2026-11-27 18:30:57.563527+00');
INSERT INTO public.person VALUES ('tarn', 'p-1bbdf85b296c4754968f', 'coteacher', 'coteacher', 'Staff', '', '', 'staff', '$argon2id$v=19$m=19456,t=2,p=1$Qza73OXHPEsxBdCJXSoTEA$idlcd5sVigRWkURVS/PZKv3+D/7/QAAN9cH1GwK0Jlg', true, '2026-11-27 18:30:57.563527+00');
INSERT INTO public.person VALUES ('tarn', 'p-88fbaeb198d84826b016', 'marker', 'marker', 'Staff', '', '', 'staff', '$argon2id$v=19$m=19456,t=2,p=1$XMEi72HHM0ncGsuPktu3+Q$LSxCwlln9Ihytxog+oiLn3fQMO2EAEJs8XweZ3NVfU4', true, '2026-11-27 18:30:57.563527+00');
INSERT INTO public.person VALUES ('tarn', 'p-34d540a775ea4013813d', 'reviewer', 'reviewer', 'Staff', '', '', 'staff', '$argon2id$v=19$m=19456,t=2,p=1$uFNc+TIa/QxOcg1zv44mBA$CG7KXekxejqvx6mjd/HEmRRc7vxZm2GnLRXRK92/tU4', true, '2026-11-27 18:30:57.563527+00');
INSERT INTO public.person VALUES ('tarn', 'p-725c57c2292147e8a2ea', 'stranger', 'stranger', 'Staff', '', '', 'staff', '$argon2id$v=19$m=19456,t=2,p=1$UmoTbLl5BkSycz9qR+AfZA$NSqKskqBsmqGEWjOuAcQztgaLjz2JQpomseweoilzs4', true, '2026-11-27 18:30:57.563527+00');
INSERT INTO public.person VALUES ('tarn', 'p-9f920a46c1d248eb8a76', 'ada', 'Adler', 'Ada', 'N1', 'ada@tarn.example', 'student', '$argon2id$v=19$m=19456,t=2,p=1$UosFVLCCdX16fzZUQsMacw$BTh0BayuupjbfhwcdLzgVbHKgMDSwoGcY0NFLhRusZY', true, '2026-11-27 18:30:57.563527+00');
INSERT INTO public.person VALUES ('tarn', 'p-3b732545affd4353b76f', 'ben', 'Birch', 'Ben', 'N2', 'ben@tarn.example', 'student', '$argon2id$v=19$m=19456,t=2,p=1$5nFnDbj6zEb/+oGiwuh24A$SDb+uj3wLO09643dR+qrE5Hc/x6j2TPOfR0CfJr34Ag', true, '2026-11-27 18:30:57.563527+00');
INSERT INTO public.person VALUES ('tarn', 'p-66782ae353d445699ec3', 'cleo', '=Crane', 'Cleo', 'N3', 'cleo@tarn.example', 'student', '$argon2id$v=19$m=19456,t=2,p=1$Gt49Nijn+yMadHNROHfOzQ$W5xhviTclBQ4wr3p6EnFc+CeHBNBYc+iWDEuAnAu2Ps', true, '2026-11-27 18:30:57.563527+00');
INSERT INTO public.person VALUES ('tarn', 'p-cf0ad023151a4732a574', 'out', 'Outsider', 'Ola', 'N9', 'out@tarn.example', 'student', '$argon2id$v=19$m=19456,t=2,p=1$Pu3w5ttWmwfcktpjz9xceQ$ZjU7Sq5JIJZETVMDkvDdf4Y4OFCyMNIqYA/4TR4j5GI', true, '2026-11-27 18:30:57.563527+00');


--
-- Data for Name: presence; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Data for Name: rehearsal; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Data for Name: released_entry; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.released_entry VALUES ('tarn', 'fens', 's-65fba77e1b0942c89cff', 'moss', '{}', 0, '2026-11-24 09:00:00+00', 'p-2ad3a4568c844ddf9e5e', NULL);
INSERT INTO public.released_entry VALUES ('tarn', 'fens', 's-ac649795356c4173814f', 'moss', '{"attempts":[{"score":15}]}', 1, '2026-11-24 09:00:00+00', 'p-2ad3a4568c844ddf9e5e', NULL);
INSERT INTO public.released_entry VALUES ('tarn', 'fens', 's-dbf05762613347ddbbec', 'moss', '{"attempts":[{"score":11.5}]}', 1, '2026-11-24 09:00:00+00', 'p-2ad3a4568c844ddf9e5e', NULL);


--
-- Data for Name: released_skeleton; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.released_skeleton VALUES ('tarn', 'fens', '7ec9cf80970629d8c9e593f11b0a8d3f9acc113d', '{"blank":"usual","format":"last-tally.book/1","late":"steady","rounding":{"decimals":1,"mode":"half-up"},"rules":{"blank":{"usual":{"afterDue":{"percent":0},"beforeDue":"skip"}},"late":{"steady":{"deduct":10,"graceMinutes":15,"max":50,"unit":"day"}},"scales":{"letters":{"bands":[{"from":80,"label":"A"},{"from":50,"label":"B"},{"from":0,"label":"F"}]}}},"scale":"letters","timeZone":"Europe/Dublin","tree":{"children":[{"children":[{"due":"2026-10-10T16:00:00.000Z","id":"moss","points":20,"type":"item"},{"due":"2026-11-10T17:00:00.000Z","id":"reed","points":10,"type":"item"}],"combine":"points","id":"work","info":{"title":"Field work"},"type":"group","weight":60},{"children":[{"due":"2026-12-10T17:00:00.000Z","id":"test","points":50,"type":"item"}],"combine":"points","id":"tests","info":{"title":"Tests"},"type":"group","weight":40}],"combine":"weights","id":"all","type":"group"}}', 1);


--
-- Data for Name: remark; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.remark VALUES ('tarn', 'fens', 's-ac649795356c4173814f', 'moss', 1, 'n-6524f23445c84f119d3a', 'p-2ad3a4568c844ddf9e5e');


--
-- Data for Name: rules_version; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.rules_version VALUES ('tarn', 'fens', 1, '{"rules":{"late":{"steady":{"unit":"day","deduct":10,"max":50,"graceMinutes":15}},"blank":{"usual":{"beforeDue":"skip","afterDue":{"percent":0}}},"scales":{"letters":{"bands":[{"label":"A","from":80},{"label":"B","from":50},{"label":"F","from":0}]}}},"blank":"usual","late":"steady","scale":"letters","rounding":{"decimals":1,"mode":"half-up"},"tree":{"id":"all","type":"group","combine":"weights","children":[{"id":"work","type":"group","combine":"points","weight":60,"children":[],"info":{"title":"Field work"}},{"id":"tests","type":"group","combine":"points","weight":40,"children":[],"info":{"title":"Tests"}}]}}', '2026-11-27 18:30:57.638811+00', 'p-a864fadf4c544a5fbd3d', 'the book was made');
INSERT INTO public.rules_version VALUES ('tarn', 'hills', 1, '{"rules":{"late":{"steady":{"unit":"day","deduct":10,"max":50,"graceMinutes":15}},"blank":{"usual":{"beforeDue":"skip","afterDue":{"percent":0}}},"scales":{"letters":{"bands":[{"label":"A","from":80},{"label":"B","from":50},{"label":"F","from":0}]}}},"blank":"usual","late":"steady","scale":"letters","rounding":{"decimals":1,"mode":"half-up"},"tree":{"id":"all","type":"group","combine":"weights","children":[{"id":"work","type":"group","combine":"points","weight":60,"children":[],"info":{"title":"Field work"}},{"id":"tests","type":"group","combine":"points","weight":40,"children":[],"info":{"title":"Tests"}}]}}', '2026-11-27 18:30:57.702663+00', 'p-a864fadf4c544a5fbd3d', 'the book was made');


--
-- Data for Name: saved_view; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.saved_view VALUES ('tarn', 'fens', 'p-2ad3a4568c844ddf9e5e', 'v-1', 'Only drafts', 'only=draft');


--
-- Data for Name: school; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.school VALUES ('tarn', 'Tarn School', 'Europe/Dublin', '2026-11-24 09:00:00+00', '2026-11-27 18:30:57.093901+00', false);


--
-- Data for Name: school_rules; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.school_rules VALUES ('tarn', 1, '8bcbdd9e-533a-48ba-9cb0-681f3a5ac48b', '{"format":"last-tally.school-rules/1","rules":{"blank":{"usual":{"beforeDue":"skip","afterDue":{"percent":0}}}},"blank":"usual","late":null,"rounding":{"decimals":1,"mode":"half-up"},"calendar":{"days":[],"closures":[]},"stands":{"blank":"open","late":"open","calendar":"open","allowance":"open","marks":"open","rounding":"begins","letters":"open"}}', '2026-11-27 18:30:58.603284+00', 'p-a864fadf4c544a5fbd3d', 'agreed');


--
-- Data for Name: school_turn; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.school_turn VALUES ('tarn', 'turn-21e167850e1a45d3a0be', 'make', 'p-a864fadf4c544a5fbd3d', 0, 1, '{"format":"last-tally.school-rules/1","rules":{"blank":{"usual":{"beforeDue":"skip","afterDue":{"percent":0}}}},"blank":"usual","late":null,"rounding":{"decimals":1,"mode":"half-up"},"calendar":{"days":[],"closures":[]},"stands":{"blank":"open","late":"open","calendar":"open","allowance":"open","marks":"open","rounding":"begins","letters":"open"}}', '2026-11-27 18:30:58.605851+00');


--
-- Data for Name: school_turn_book; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.school_turn_book VALUES ('tarn', 'turn-21e167850e1a45d3a0be', 'fens', 1, '{"state":"stays","says":"","students":0,"up":0,"down":0,"crossing":0,"readers":0,"departs":[]}', NULL);
INSERT INTO public.school_turn_book VALUES ('tarn', 'turn-21e167850e1a45d3a0be', 'hills', 2, '{"state":"stays","says":"","students":0,"up":0,"down":0,"crossing":0,"readers":0,"departs":[]}', NULL);


--
-- Data for Name: section; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.section VALUES ('tarn', 'fens', 'north', 'North', 0);
INSERT INTO public.section VALUES ('tarn', 'hills', 'north', 'North', 0);


--
-- Data for Name: session; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Data for Name: sign_in_failure; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Data for Name: slip; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.slip VALUES ('tarn', 'fens', 's-65fba77e1b0942c89cff', '7ec9cf80970629d8c9e593f11b0a8d3f9acc113d', '{"asOf":"2026-11-24T09:00:00.000Z","items":[{"id":"moss","lines":[{"detail":"Nothing came. It was due 10 Oct 17:00.","figure":"","label":"Missing","tone":"cost"},{"detail":"a blank past due counts 0 % of 20 points","figure":"","label":"Rule for blanks","tone":"cost"},{"detail":"of 20","figure":"0","label":"Counts as","tone":"sum"},{"detail":"20 points in Field work","figure":"","label":"Share","tone":"quiet"}],"points":20,"released":{"at":"2026-11-24T09:00:00.000Z","by":"S. teacher"},"title":"Moss"},{"id":"reed","lines":[],"points":10,"released":null,"title":"Reed"},{"id":"test","lines":[],"points":50,"released":null,"title":"Test"}],"result":{"exact":"0","groups":[{"exact":"0","id":"all"},{"exact":"0","id":"work"},{"exact":null,"id":"tests"}],"high":"60.0","id":"s-65fba77e1b0942c89cff","items":[{"dropped":false,"earned":"0","id":"moss","state":"missing"},{"dropped":false,"earned":null,"id":"reed","state":"awaiting"},{"dropped":false,"earned":null,"id":"test","state":"awaiting"}],"letter":"F","low":"0.0","percent":"0.0"},"scale":[{"from":80,"label":"A"},{"from":50,"label":"B"},{"from":0,"label":"F"}],"standing":[{"detail":"","figure":"0 × 60","label":"Field work","tone":"plain"},{"detail":"nothing yet: its 40 is shared out among the rest","figure":"open","label":"Tests","tone":"quiet"},{"detail":"the sum of those above, divided by 60, the weight that counts so far","figure":"0 %","label":"Together","tone":"sum"},{"detail":"once, at the end: 0 to one decimal, a half goes up","figure":"0.0","label":"Rounded","tone":"sum"},{"detail":"from 0 %; 50 short of B","figure":"F","label":"Letter F","tone":"plain"},{"detail":"with nothing more it ends at 0.0; with full points on all that is open, at 60.0","figure":"0.0–60.0","label":"Still open","tone":"quiet"}],"timeZone":"Europe/Dublin"}', '2026-11-24 09:00:00+00');
INSERT INTO public.slip VALUES ('tarn', 'fens', 's-ac649795356c4173814f', '7ec9cf80970629d8c9e593f11b0a8d3f9acc113d', '{"asOf":"2026-11-24T09:00:00.000Z","items":[{"id":"moss","lines":[{"detail":"of 20","figure":"15","label":"Marked","tone":"plain"},{"detail":"of 20","figure":"15","label":"Counts as","tone":"sum"},{"detail":"20 points in Field work","figure":"","label":"Share","tone":"quiet"}],"points":20,"released":{"at":"2026-11-24T09:00:00.000Z","by":"S. teacher"},"title":"Moss"},{"id":"reed","lines":[],"points":10,"released":null,"title":"Reed"},{"id":"test","lines":[],"points":50,"released":null,"title":"Test"}],"result":{"exact":"75","groups":[{"exact":"75","id":"all"},{"exact":"75","id":"work"},{"exact":null,"id":"tests"}],"high":"85.0","id":"s-ac649795356c4173814f","items":[{"dropped":false,"earned":"15","id":"moss","state":"scored"},{"dropped":false,"earned":null,"id":"reed","state":"excused"},{"dropped":false,"earned":null,"id":"test","state":"awaiting"}],"letter":"B","low":"45.0","percent":"75.0"},"scale":[{"from":80,"label":"A"},{"from":50,"label":"B"},{"from":0,"label":"F"}],"standing":[{"detail":"","figure":"75 × 60","label":"Field work","tone":"plain"},{"detail":"nothing yet: its 40 is shared out among the rest","figure":"open","label":"Tests","tone":"quiet"},{"detail":"the sum of those above, divided by 60, the weight that counts so far","figure":"75 %","label":"Together","tone":"sum"},{"detail":"once, at the end: 75 to one decimal, a half goes up","figure":"75.0","label":"Rounded","tone":"sum"},{"detail":"from 50 %; 5 short of A","figure":"B","label":"Letter B","tone":"plain"},{"detail":"with nothing more it ends at 45.0; with full points on all that is open, at 85.0","figure":"45.0–85.0","label":"Still open","tone":"quiet"}],"timeZone":"Europe/Dublin"}', '2026-11-24 09:00:00+00');
INSERT INTO public.slip VALUES ('tarn', 'fens', 's-dbf05762613347ddbbec', '7ec9cf80970629d8c9e593f11b0a8d3f9acc113d', '{"asOf":"2026-11-24T09:00:00.000Z","items":[{"id":"moss","lines":[{"detail":"of 20","figure":"11.5","label":"Marked","tone":"plain"},{"detail":"of 20","figure":"11.5","label":"Counts as","tone":"sum"},{"detail":"20 points in Field work","figure":"","label":"Share","tone":"quiet"}],"points":20,"released":{"at":"2026-11-24T09:00:00.000Z","by":"S. teacher"},"title":"Moss"},{"id":"reed","lines":[],"points":10,"released":null,"title":"Reed"},{"id":"test","lines":[],"points":50,"released":null,"title":"Test"}],"result":{"exact":"115/2","groups":[{"exact":"115/2","id":"all"},{"exact":"115/2","id":"work"},{"exact":null,"id":"tests"}],"high":"83.0","id":"s-dbf05762613347ddbbec","items":[{"dropped":false,"earned":"23/2","id":"moss","state":"scored"},{"dropped":false,"earned":null,"id":"reed","state":"awaiting"},{"dropped":false,"earned":null,"id":"test","state":"awaiting"}],"letter":"B","low":"23.0","percent":"57.5"},"scale":[{"from":80,"label":"A"},{"from":50,"label":"B"},{"from":0,"label":"F"}],"standing":[{"detail":"","figure":"57.5 × 60","label":"Field work","tone":"plain"},{"detail":"nothing yet: its 40 is shared out among the rest","figure":"open","label":"Tests","tone":"quiet"},{"detail":"the sum of those above, divided by 60, the weight that counts so far","figure":"57.5 %","label":"Together","tone":"sum"},{"detail":"once, at the end: 115/2 to one decimal, a half goes up","figure":"57.5","label":"Rounded","tone":"sum"},{"detail":"from 50 %; 22.5 short of A","figure":"B","label":"Letter B","tone":"plain"},{"detail":"with nothing more it ends at 23.0; with full points on all that is open, at 83.0","figure":"23.0–83.0","label":"Still open","tone":"quiet"}],"timeZone":"Europe/Dublin"}', '2026-11-24 09:00:00+00');


--
-- Data for Name: stay; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.stay VALUES ('tarn', 'fens', 's-dbf05762613347ddbbec', 1, 'north', '2026-11-27 18:30:57.746483+00', NULL);
INSERT INTO public.stay VALUES ('tarn', 'fens', 's-65fba77e1b0942c89cff', 1, 'north', '2026-11-27 18:30:57.746703+00', NULL);
INSERT INTO public.stay VALUES ('tarn', 'fens', 's-ac649795356c4173814f', 1, 'north', '2026-11-27 18:30:57.74672+00', NULL);
INSERT INTO public.stay VALUES ('tarn', 'hills', 's-b01c82faefcb410cbc09', 1, NULL, '2026-11-27 18:30:57.776551+00', NULL);


--
-- Data for Name: student_group; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.student_group VALUES ('tarn', 'fens', 'crew', 'Boat crew', 1);


--
-- Data for Name: student_group_member; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.student_group_member VALUES ('tarn', 'fens', 'crew', 's-ac649795356c4173814f');
INSERT INTO public.student_group_member VALUES ('tarn', 'fens', 'crew', 's-dbf05762613347ddbbec');


--
-- Data for Name: template; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.template VALUES ('tarn', 'p-2ad3a4568c844ddf9e5e', 'talk', 'Talk', '{"points":10,"takesWork":false,"category":"work","more":{}}');


--
-- Data for Name: term; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.term VALUES ('tarn', 'autumn', 'Autumn', '2026-09-01', '2026-12-20');


--
-- Name: migration_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.migration_id_seq', 12, true);


--
-- Name: assessment assessment_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.assessment
    ADD CONSTRAINT assessment_pkey PRIMARY KEY (school, book, id);


--
-- Name: attempt attempt_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.attempt
    ADD CONSTRAINT attempt_pkey PRIMARY KEY (school, book, assessment, enrolment, number);


--
-- Name: batch batch_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.batch
    ADD CONSTRAINT batch_pkey PRIMARY KEY (school, book, id);


--
-- Name: book book_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.book
    ADD CONSTRAINT book_pkey PRIMARY KEY (school, id);


--
-- Name: book_staff book_staff_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.book_staff
    ADD CONSTRAINT book_staff_pkey PRIMARY KEY (school, book, person);


--
-- Name: enrolment enrolment_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.enrolment
    ADD CONSTRAINT enrolment_pkey PRIMARY KEY (school, book, id);


--
-- Name: enrolment enrolment_school_book_person_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.enrolment
    ADD CONSTRAINT enrolment_school_book_person_key UNIQUE (school, book, person);


--
-- Name: entry entry_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.entry
    ADD CONSTRAINT entry_pkey PRIMARY KEY (school, book, assessment, enrolment);


--
-- Name: exception_end exception_end_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.exception_end
    ADD CONSTRAINT exception_end_pkey PRIMARY KEY (school, book, enrolment, place, kind);


--
-- Name: invitation invitation_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.invitation
    ADD CONSTRAINT invitation_pkey PRIMARY KEY (hash);


--
-- Name: journal journal_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.journal
    ADD CONSTRAINT journal_pkey PRIMARY KEY (school, book, seq);


--
-- Name: journal_reason journal_reason_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.journal_reason
    ADD CONSTRAINT journal_reason_pkey PRIMARY KEY (school, book, batch);


--
-- Name: journal_seal journal_seal_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.journal_seal
    ADD CONSTRAINT journal_seal_pkey PRIMARY KEY (school, book, block);


--
-- Name: journal_seal journal_seal_school_book_first_seq_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.journal_seal
    ADD CONSTRAINT journal_seal_school_book_first_seq_key UNIQUE (school, book, first_seq);


--
-- Name: kept_trial kept_trial_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.kept_trial
    ADD CONSTRAINT kept_trial_pkey PRIMARY KEY (school, book, person, id);


--
-- Name: last_visit last_visit_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.last_visit
    ADD CONSTRAINT last_visit_pkey PRIMARY KEY (school, book, person);


--
-- Name: migration migration_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.migration
    ADD CONSTRAINT migration_pkey PRIMARY KEY (id);


--
-- Name: note_text note_text_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.note_text
    ADD CONSTRAINT note_text_pkey PRIMARY KEY (school, book, id);


--
-- Name: notice notice_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.notice
    ADD CONSTRAINT notice_pkey PRIMARY KEY (school, id);


--
-- Name: override override_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.override
    ADD CONSTRAINT override_pkey PRIMARY KEY (school, book, enrolment);


--
-- Name: person person_login_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.person
    ADD CONSTRAINT person_login_key UNIQUE (login);


--
-- Name: person person_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.person
    ADD CONSTRAINT person_pkey PRIMARY KEY (school, id);


--
-- Name: presence presence_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.presence
    ADD CONSTRAINT presence_pkey PRIMARY KEY (connection);


--
-- Name: rehearsal rehearsal_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.rehearsal
    ADD CONSTRAINT rehearsal_pkey PRIMARY KEY (school, book, person);


--
-- Name: released_entry released_entry_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.released_entry
    ADD CONSTRAINT released_entry_pkey PRIMARY KEY (school, book, enrolment, assessment);


--
-- Name: released_skeleton released_skeleton_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.released_skeleton
    ADD CONSTRAINT released_skeleton_pkey PRIMARY KEY (school, book, id);


--
-- Name: remark remark_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.remark
    ADD CONSTRAINT remark_pkey PRIMARY KEY (school, book, enrolment, place);


--
-- Name: rules_version rules_version_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.rules_version
    ADD CONSTRAINT rules_version_pkey PRIMARY KEY (school, book, version);


--
-- Name: saved_view saved_view_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.saved_view
    ADD CONSTRAINT saved_view_pkey PRIMARY KEY (school, book, person, id);


--
-- Name: school school_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.school
    ADD CONSTRAINT school_pkey PRIMARY KEY (id);


--
-- Name: school_rules school_rules_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.school_rules
    ADD CONSTRAINT school_rules_pkey PRIMARY KEY (school, version);


--
-- Name: school_rules school_rules_school_operation_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.school_rules
    ADD CONSTRAINT school_rules_school_operation_key UNIQUE (school, operation);


--
-- Name: school_turn_book school_turn_book_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.school_turn_book
    ADD CONSTRAINT school_turn_book_pkey PRIMARY KEY (school, turn, book);


--
-- Name: school_turn school_turn_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.school_turn
    ADD CONSTRAINT school_turn_pkey PRIMARY KEY (school, id);


--
-- Name: section section_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.section
    ADD CONSTRAINT section_pkey PRIMARY KEY (school, book, id);


--
-- Name: session session_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.session
    ADD CONSTRAINT session_pkey PRIMARY KEY (sid);


--
-- Name: sign_in_failure sign_in_failure_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.sign_in_failure
    ADD CONSTRAINT sign_in_failure_pkey PRIMARY KEY (key);


--
-- Name: slip slip_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.slip
    ADD CONSTRAINT slip_pkey PRIMARY KEY (school, book, enrolment);


--
-- Name: stay stay_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.stay
    ADD CONSTRAINT stay_pkey PRIMARY KEY (school, book, enrolment, number);


--
-- Name: student_group_member student_group_member_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.student_group_member
    ADD CONSTRAINT student_group_member_pkey PRIMARY KEY (school, book, student_group, enrolment);


--
-- Name: student_group student_group_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.student_group
    ADD CONSTRAINT student_group_pkey PRIMARY KEY (school, book, id);


--
-- Name: template template_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.template
    ADD CONSTRAINT template_pkey PRIMARY KEY (school, person, id);


--
-- Name: term term_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.term
    ADD CONSTRAINT term_pkey PRIMARY KEY (school, id);


--
-- Name: batch_undoes; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX batch_undoes ON public.batch USING btree (school, book, undoes) WHERE (undoes IS NOT NULL);


--
-- Name: book_staff_person; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX book_staff_person ON public.book_staff USING btree (school, person);


--
-- Name: enrolment_person; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX enrolment_person ON public.enrolment USING btree (school, person);


--
-- Name: exception_end_until; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX exception_end_until ON public.exception_end USING btree (school, until);


--
-- Name: invitation_person; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX invitation_person ON public.invitation USING btree (school, person);


--
-- Name: journal_at; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX journal_at ON public.journal USING btree (school, book, at);


--
-- Name: journal_batch; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX journal_batch ON public.journal USING btree (school, book, batch);


--
-- Name: journal_cell; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX journal_cell ON public.journal USING btree (school, book, assessment, enrolment, seq);


--
-- Name: journal_enrolment; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX journal_enrolment ON public.journal USING btree (school, book, enrolment, seq);


--
-- Name: journal_kind; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX journal_kind ON public.journal USING btree (school, book, kind, seq);


--
-- Name: journal_operation; Type: INDEX; Schema: public; Owner: -
--

CREATE UNIQUE INDEX journal_operation ON public.journal USING btree (school, book, operation);


--
-- Name: journal_person; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX journal_person ON public.journal USING btree (school, book, person, seq);


--
-- Name: notice_enrolment; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX notice_enrolment ON public.notice USING btree (school, book, enrolment);


--
-- Name: person_number; Type: INDEX; Schema: public; Owner: -
--

CREATE UNIQUE INDEX person_number ON public.person USING btree (school, number) WHERE (number <> ''::text);


--
-- Name: presence_book; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX presence_book ON public.presence USING btree (school, book);


--
-- Name: released_entry_assessment; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX released_entry_assessment ON public.released_entry USING btree (school, book, assessment);


--
-- Name: school_turn_waits; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX school_turn_waits ON public.school_turn_book USING btree (school, turn, "position") WHERE (answer IS NULL);


--
-- Name: session_expire; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX session_expire ON public.session USING btree (expire);


--
-- Name: journal_seal journal_seal_stands; Type: TRIGGER; Schema: public; Owner: -
--

CREATE TRIGGER journal_seal_stands BEFORE DELETE OR UPDATE ON public.journal_seal FOR EACH ROW EXECUTE FUNCTION public.journal_stands();


--
-- Name: journal_seal journal_seal_stands_whole; Type: TRIGGER; Schema: public; Owner: -
--

CREATE TRIGGER journal_seal_stands_whole BEFORE TRUNCATE ON public.journal_seal FOR EACH STATEMENT EXECUTE FUNCTION public.journal_stands();


--
-- Name: journal journal_stands; Type: TRIGGER; Schema: public; Owner: -
--

CREATE TRIGGER journal_stands BEFORE DELETE OR UPDATE ON public.journal FOR EACH ROW EXECUTE FUNCTION public.journal_stands();


--
-- Name: journal journal_stands_whole; Type: TRIGGER; Schema: public; Owner: -
--

CREATE TRIGGER journal_stands_whole BEFORE TRUNCATE ON public.journal FOR EACH STATEMENT EXECUTE FUNCTION public.journal_stands();


--
-- Name: school_rules school_rules_stand; Type: TRIGGER; Schema: public; Owner: -
--

CREATE TRIGGER school_rules_stand BEFORE DELETE OR UPDATE ON public.school_rules FOR EACH ROW EXECUTE FUNCTION public.school_rules_stand();


--
-- Name: book tell_book; Type: TRIGGER; Schema: public; Owner: -
--

CREATE TRIGGER tell_book AFTER UPDATE OF seq ON public.book FOR EACH ROW WHEN ((old.seq IS DISTINCT FROM new.seq)) EXECUTE FUNCTION public.tell_book();


--
-- Name: presence tell_presence; Type: TRIGGER; Schema: public; Owner: -
--

CREATE TRIGGER tell_presence AFTER INSERT OR DELETE OR UPDATE OF enrolment, assessment ON public.presence FOR EACH ROW EXECUTE FUNCTION public.tell_presence();


--
-- Name: assessment assessment_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.assessment
    ADD CONSTRAINT assessment_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id);


--
-- Name: attempt attempt_school_book_assessment_enrolment_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.attempt
    ADD CONSTRAINT attempt_school_book_assessment_enrolment_fkey FOREIGN KEY (school, book, assessment, enrolment) REFERENCES public.entry(school, book, assessment, enrolment) ON DELETE CASCADE;


--
-- Name: batch batch_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.batch
    ADD CONSTRAINT batch_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id);


--
-- Name: book book_school_term_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.book
    ADD CONSTRAINT book_school_term_fkey FOREIGN KEY (school, term) REFERENCES public.term(school, id);


--
-- Name: book_staff book_staff_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.book_staff
    ADD CONSTRAINT book_staff_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id);


--
-- Name: book_staff book_staff_school_person_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.book_staff
    ADD CONSTRAINT book_staff_school_person_fkey FOREIGN KEY (school, person) REFERENCES public.person(school, id);


--
-- Name: enrolment enrolment_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.enrolment
    ADD CONSTRAINT enrolment_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id);


--
-- Name: enrolment enrolment_school_book_section_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.enrolment
    ADD CONSTRAINT enrolment_school_book_section_fkey FOREIGN KEY (school, book, section) REFERENCES public.section(school, book, id);


--
-- Name: enrolment enrolment_school_person_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.enrolment
    ADD CONSTRAINT enrolment_school_person_fkey FOREIGN KEY (school, person) REFERENCES public.person(school, id);


--
-- Name: entry entry_school_book_assessment_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.entry
    ADD CONSTRAINT entry_school_book_assessment_fkey FOREIGN KEY (school, book, assessment) REFERENCES public.assessment(school, book, id);


--
-- Name: entry entry_school_book_enrolment_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.entry
    ADD CONSTRAINT entry_school_book_enrolment_fkey FOREIGN KEY (school, book, enrolment) REFERENCES public.enrolment(school, book, id);


--
-- Name: exception_end exception_end_school_book_enrolment_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.exception_end
    ADD CONSTRAINT exception_end_school_book_enrolment_fkey FOREIGN KEY (school, book, enrolment) REFERENCES public.enrolment(school, book, id);


--
-- Name: invitation invitation_school_person_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.invitation
    ADD CONSTRAINT invitation_school_person_fkey FOREIGN KEY (school, person) REFERENCES public.person(school, id) ON DELETE CASCADE;


--
-- Name: journal_reason journal_reason_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.journal_reason
    ADD CONSTRAINT journal_reason_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id);


--
-- Name: journal journal_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.journal
    ADD CONSTRAINT journal_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id);


--
-- Name: journal_seal journal_seal_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.journal_seal
    ADD CONSTRAINT journal_seal_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id);


--
-- Name: kept_trial kept_trial_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.kept_trial
    ADD CONSTRAINT kept_trial_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id) ON DELETE CASCADE;


--
-- Name: kept_trial kept_trial_school_person_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.kept_trial
    ADD CONSTRAINT kept_trial_school_person_fkey FOREIGN KEY (school, person) REFERENCES public.person(school, id) ON DELETE CASCADE;


--
-- Name: last_visit last_visit_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.last_visit
    ADD CONSTRAINT last_visit_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id);


--
-- Name: last_visit last_visit_school_person_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.last_visit
    ADD CONSTRAINT last_visit_school_person_fkey FOREIGN KEY (school, person) REFERENCES public.person(school, id);


--
-- Name: note_text note_text_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.note_text
    ADD CONSTRAINT note_text_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id);


--
-- Name: notice notice_school_book_enrolment_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.notice
    ADD CONSTRAINT notice_school_book_enrolment_fkey FOREIGN KEY (school, book, enrolment) REFERENCES public.enrolment(school, book, id);


--
-- Name: override override_school_book_enrolment_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.override
    ADD CONSTRAINT override_school_book_enrolment_fkey FOREIGN KEY (school, book, enrolment) REFERENCES public.enrolment(school, book, id);


--
-- Name: person person_school_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.person
    ADD CONSTRAINT person_school_fkey FOREIGN KEY (school) REFERENCES public.school(id);


--
-- Name: rehearsal rehearsal_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.rehearsal
    ADD CONSTRAINT rehearsal_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id) ON DELETE CASCADE;


--
-- Name: rehearsal rehearsal_school_person_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.rehearsal
    ADD CONSTRAINT rehearsal_school_person_fkey FOREIGN KEY (school, person) REFERENCES public.person(school, id) ON DELETE CASCADE;


--
-- Name: released_entry released_entry_school_book_assessment_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.released_entry
    ADD CONSTRAINT released_entry_school_book_assessment_fkey FOREIGN KEY (school, book, assessment) REFERENCES public.assessment(school, book, id);


--
-- Name: released_entry released_entry_school_book_enrolment_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.released_entry
    ADD CONSTRAINT released_entry_school_book_enrolment_fkey FOREIGN KEY (school, book, enrolment) REFERENCES public.enrolment(school, book, id);


--
-- Name: released_skeleton released_skeleton_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.released_skeleton
    ADD CONSTRAINT released_skeleton_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id);


--
-- Name: remark remark_school_book_enrolment_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.remark
    ADD CONSTRAINT remark_school_book_enrolment_fkey FOREIGN KEY (school, book, enrolment) REFERENCES public.enrolment(school, book, id);


--
-- Name: remark remark_school_book_note_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.remark
    ADD CONSTRAINT remark_school_book_note_fkey FOREIGN KEY (school, book, note) REFERENCES public.note_text(school, book, id);


--
-- Name: rules_version rules_version_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.rules_version
    ADD CONSTRAINT rules_version_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id);


--
-- Name: saved_view saved_view_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.saved_view
    ADD CONSTRAINT saved_view_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id);


--
-- Name: saved_view saved_view_school_person_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.saved_view
    ADD CONSTRAINT saved_view_school_person_fkey FOREIGN KEY (school, person) REFERENCES public.person(school, id);


--
-- Name: school_rules school_rules_school_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.school_rules
    ADD CONSTRAINT school_rules_school_fkey FOREIGN KEY (school) REFERENCES public.school(id);


--
-- Name: school_rules school_rules_school_made_by_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.school_rules
    ADD CONSTRAINT school_rules_school_made_by_fkey FOREIGN KEY (school, made_by) REFERENCES public.person(school, id);


--
-- Name: school_turn_book school_turn_book_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.school_turn_book
    ADD CONSTRAINT school_turn_book_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id) ON DELETE CASCADE;


--
-- Name: school_turn_book school_turn_book_school_turn_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.school_turn_book
    ADD CONSTRAINT school_turn_book_school_turn_fkey FOREIGN KEY (school, turn) REFERENCES public.school_turn(school, id) ON DELETE CASCADE;


--
-- Name: school_turn school_turn_school_person_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.school_turn
    ADD CONSTRAINT school_turn_school_person_fkey FOREIGN KEY (school, person) REFERENCES public.person(school, id);


--
-- Name: section section_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.section
    ADD CONSTRAINT section_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id);


--
-- Name: slip slip_school_book_enrolment_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.slip
    ADD CONSTRAINT slip_school_book_enrolment_fkey FOREIGN KEY (school, book, enrolment) REFERENCES public.enrolment(school, book, id);


--
-- Name: slip slip_school_book_skeleton_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.slip
    ADD CONSTRAINT slip_school_book_skeleton_fkey FOREIGN KEY (school, book, skeleton) REFERENCES public.released_skeleton(school, book, id);


--
-- Name: stay stay_school_book_enrolment_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.stay
    ADD CONSTRAINT stay_school_book_enrolment_fkey FOREIGN KEY (school, book, enrolment) REFERENCES public.enrolment(school, book, id);


--
-- Name: stay stay_school_book_section_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.stay
    ADD CONSTRAINT stay_school_book_section_fkey FOREIGN KEY (school, book, section) REFERENCES public.section(school, book, id);


--
-- Name: student_group_member student_group_member_school_book_enrolment_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.student_group_member
    ADD CONSTRAINT student_group_member_school_book_enrolment_fkey FOREIGN KEY (school, book, enrolment) REFERENCES public.enrolment(school, book, id);


--
-- Name: student_group_member student_group_member_school_book_student_group_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.student_group_member
    ADD CONSTRAINT student_group_member_school_book_student_group_fkey FOREIGN KEY (school, book, student_group) REFERENCES public.student_group(school, book, id) ON DELETE CASCADE;


--
-- Name: student_group student_group_school_book_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.student_group
    ADD CONSTRAINT student_group_school_book_fkey FOREIGN KEY (school, book) REFERENCES public.book(school, id);


--
-- Name: template template_school_person_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.template
    ADD CONSTRAINT template_school_person_fkey FOREIGN KEY (school, person) REFERENCES public.person(school, id);


--
-- Name: term term_school_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.term
    ADD CONSTRAINT term_school_fkey FOREIGN KEY (school) REFERENCES public.school(id);


--
-- PostgreSQL database dump complete
--


