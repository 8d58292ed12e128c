-- What release 0.1.0 kept of its demo, as pg_dump wrote it: the oldest data that has to come along.
--


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

SET default_tablespace = '';

SET default_table_access_method = heap;

CREATE TABLE public._yoyo_log (
    id character varying(36) NOT NULL,
    migration_hash character varying(64),
    migration_id character varying(255),
    operation character varying(10),
    username character varying(255),
    hostname character varying(255),
    comment character varying(255),
    created_at_utc timestamp without time zone
);

CREATE TABLE public._yoyo_migration (
    migration_hash character varying(64) NOT NULL,
    migration_id character varying(255),
    applied_at_utc timestamp without time zone
);

CREATE TABLE public._yoyo_version (
    version integer NOT NULL,
    installed_at_utc timestamp without time zone
);

CREATE TABLE public.piece (
    id bigint NOT NULL,
    workshop_id bigint NOT NULL,
    head integer NOT NULL,
    name text NOT NULL,
    for_whom text NOT NULL,
    kind text NOT NULL,
    due date,
    summary jsonb DEFAULT '{}'::jsonb NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    changed_at timestamp with time zone DEFAULT now() NOT NULL,
    removed_at timestamp with time zone,
    is_demo boolean DEFAULT false NOT NULL,
    CONSTRAINT piece_head_check CHECK ((head >= 1))
);

ALTER TABLE public.piece ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.piece_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.piece_revision (
    piece_id bigint NOT NULL,
    workshop_id bigint NOT NULL,
    revision integer NOT NULL,
    document jsonb NOT NULL,
    what text NOT NULL,
    content_of integer NOT NULL,
    replaces integer,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT piece_revision_revision_check CHECK ((revision >= 1))
);

CREATE TABLE public.plan (
    id bigint NOT NULL,
    workshop_id bigint NOT NULL,
    piece_id bigint NOT NULL,
    revision integer NOT NULL,
    input_hash text NOT NULL,
    inputs jsonb NOT NULL,
    made_at timestamp with time zone NOT NULL,
    result jsonb NOT NULL
);

ALTER TABLE public.plan ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.plan_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.system_version (
    workshop_id bigint NOT NULL,
    system_id text NOT NULL,
    version integer NOT NULL,
    sheet jsonb NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    is_retired boolean DEFAULT false NOT NULL,
    CONSTRAINT system_version_version_check CHECK ((version >= 1))
);

CREATE TABLE public.workshop (
    id bigint NOT NULL,
    settings jsonb NOT NULL,
    is_demo boolean DEFAULT false NOT NULL,
    changed_at timestamp with time zone DEFAULT now() NOT NULL
);

ALTER TABLE public.workshop ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.workshop_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.yoyo_lock (
    locked integer DEFAULT 1 NOT NULL,
    ctime timestamp without time zone,
    pid integer NOT NULL
);

INSERT INTO public._yoyo_migration VALUES ('3f5ddba189e19ca768db7dc18216c6f31234fef5754b684dddbf93f96b3f731e', '0001.workshops-systems-pieces-plans', '2026-11-25 17:18:42.158064');

INSERT INTO public._yoyo_version VALUES (2, '2026-11-25 17:18:42.05686');

INSERT INTO public.piece OVERRIDING SYSTEM VALUE VALUES (1, 1, 1, 'Newel post', 'Fernhollow Arboretum', 'crack or knot', '2026-12-11', '{}', '2026-11-25 17:18:42.960799+00', '2026-11-25 17:18:42.960799+00', NULL, true);
INSERT INTO public.piece OVERRIDING SYSTEM VALUE VALUES (2, 1, 1, 'Seed-head block', 'Fernhollow Arboretum', 'block', '2026-12-07', '{}', '2026-11-25 17:18:42.960799+00', '2026-11-25 17:18:42.960799+00', NULL, true);
INSERT INTO public.piece OVERRIDING SYSTEM VALUE VALUES (3, 1, 1, 'Drawer pulls', 'private commission', 'small castings', '2026-12-04', '{}', '2026-11-25 17:18:42.960799+00', '2026-11-25 17:18:42.960799+00', NULL, true);
INSERT INTO public.piece OVERRIDING SYSTEM VALUE VALUES (4, 1, 1, 'Entrance bench seat', 'Fernhollow Arboretum', 'deep pour', '2026-12-10', '{}', '2026-11-25 17:18:42.960799+00', '2026-11-25 17:18:42.960799+00', NULL, true);
INSERT INTO public.piece OVERRIDING SYSTEM VALUE VALUES (5, 1, 1, 'Bookend pair', 'private commission', 'block', NULL, '{}', '2026-11-25 17:18:42.960799+00', '2026-11-25 17:18:42.960799+00', NULL, true);
INSERT INTO public.piece OVERRIDING SYSTEM VALUE VALUES (6, 1, 1, 'Door plaque', 'Fernhollow Arboretum', 'block', NULL, '{}', '2026-11-25 17:18:42.960799+00', '2026-11-25 17:18:42.960799+00', NULL, true);

INSERT INTO public.piece_revision VALUES (1, 1, 1, '{"due": "2026-12-11", "name": "Newel post", "note": "Drying shake in chestnut, taped below, dammed above.", "tint": "#8B6B3E", "voids": [{"id": "shake", "name": "Drying shake", "wall": "wood", "count": 1, "shape": {"kind": "outline", "depth_m": {"value": 0.048, "origin": "measured", "as_typed": "48 mm"}, "holes_m": [], "points_m": [[0.0, 0.0], [0.16, -0.004], [0.36, -0.007], [0.52, -0.005], [0.64, -0.003], [0.64, 0.001], [0.52, 0.006], [0.36, 0.007], [0.16, 0.005], [0.0, 0.004]], "draft_deg": {"value": 2.0, "origin": "measured", "as_typed": "2 deg"}, "points_as_typed": ""}, "portions": [{"id": "shake-1", "to_m": null, "colour": "", "system_id": null, "boundaries_m": null}], "inclusions": [], "overfill_m": {"value": 0.001, "origin": "measured", "as_typed": "1 mm"}, "soak_m3_m2": {"value": 0.00011999999999999999, "origin": "typical", "as_typed": "120 mL/m2"}}], "format": "cavatum-piece", "reserve": null, "version": 1, "for_whom": "Fernhollow Arboretum", "layering": "even", "system_id": "craft-casting-epoxy", "kind_of_work": "crack or knot", "first_pour_at": null}', 'demo', 1, NULL, '2026-11-25 17:18:42.960799+00');
INSERT INTO public.piece_revision VALUES (2, 1, 1, '{"due": "2026-12-07", "name": "Seed-head block", "note": "Acrylic-lined form. Eleven dried seed heads, wired to the base.", "tint": "#D9A441", "voids": [{"id": "block", "name": "Block", "wall": "plastic", "count": 1, "shape": {"kind": "box", "depth_m": {"value": 0.095, "origin": "measured", "as_typed": "95 mm"}, "width_m": {"value": 0.17, "origin": "measured", "as_typed": "170 mm"}, "length_m": {"value": 0.23, "origin": "measured", "as_typed": "230 mm"}}, "portions": [{"id": "block-1", "to_m": null, "colour": "clear", "system_id": null, "boundaries_m": null}], "inclusions": [{"id": "heads", "name": "seed head", "to_m": {"value": 0.088, "origin": "measured", "as_typed": "88 mm"}, "count": 11, "from_m": {"value": 0.02, "origin": "measured", "as_typed": "20 mm"}, "held_down": false, "volume_m3": {"value": 0.000009, "origin": "measured", "as_typed": "9 mL"}, "density_kg_m3": {"value": 250.0, "origin": "measured", "as_typed": "250 kg/m3"}}], "overfill_m": {"value": 0.002, "origin": "measured", "as_typed": "2 mm"}, "soak_m3_m2": null}], "format": "cavatum-piece", "reserve": {"value": 0.03, "origin": "measured", "as_typed": "3 %"}, "version": 1, "for_whom": "Fernhollow Arboretum", "layering": "even", "system_id": "slow-casting-epoxy", "kind_of_work": "block", "first_pour_at": null}', 'demo', 1, NULL, '2026-11-25 17:18:42.960799+00');
INSERT INTO public.piece_revision VALUES (3, 1, 1, '{"due": "2026-12-04", "name": "Drawer pulls", "note": "Twelve and two spares. Moss base, clear above, a brass insert in each.", "tint": "#4E7F83", "voids": [{"id": "pull", "name": "Pull", "wall": "silicone", "count": 14, "shape": {"kind": "box", "depth_m": {"value": 0.01, "origin": "measured", "as_typed": "10 mm"}, "width_m": {"value": 0.025, "origin": "measured", "as_typed": "25 mm"}, "length_m": {"value": 0.08600000000000001, "origin": "measured", "as_typed": "86 mm"}}, "portions": [{"id": "base", "to_m": {"value": 0.004, "origin": "measured", "as_typed": "4 mm"}, "colour": "moss", "system_id": null, "boundaries_m": null}, {"id": "top", "to_m": null, "colour": "clear", "system_id": null, "boundaries_m": null}], "inclusions": [{"id": "brass", "name": "brass insert", "to_m": {"value": 0.009000000000000001, "origin": "measured", "as_typed": "9 mm"}, "count": 1, "from_m": {"value": 0.004, "origin": "measured", "as_typed": "4 mm"}, "held_down": false, "volume_m3": {"value": 0.0000009, "origin": "measured", "as_typed": "0.9 mL"}, "density_kg_m3": {"value": 8500.0, "origin": "measured", "as_typed": "8500 kg/m3"}}], "overfill_m": null, "soak_m3_m2": null}], "format": "cavatum-piece", "reserve": null, "version": 1, "for_whom": "private commission", "layering": "fewest", "system_id": "craft-casting-epoxy", "kind_of_work": "small castings", "first_pour_at": "2026-11-25T12:30:00Z"}', 'demo', 1, NULL, '2026-11-25 17:18:42.960799+00');
INSERT INTO public.piece_revision VALUES (4, 1, 1, '{"due": "2026-12-10", "name": "Entrance bench seat", "note": "Ash, natural-edge inlet. Faces sealed the week before, so little soaks in.", "tint": "#D39A3C", "voids": [{"id": "inlet", "name": "Inlet", "wall": "wood", "count": 1, "shape": {"kind": "outline", "depth_m": {"value": 0.042, "origin": "measured", "as_typed": "42 mm"}, "holes_m": [], "points_m": [[0.0, 0.152], [0.115, 0.147], [0.23, 0.139], [0.34500000000000003, 0.143], [0.46, 0.136], [0.5750000000000001, 0.128], [0.6900000000000001, 0.131], [0.805, 0.138], [0.92, 0.144], [1.0350000000000001, 0.137], [1.1500000000000001, 0.141], [1.2650000000000001, 0.15], [1.3800000000000001, 0.158], [1.3800000000000001, 0.256], [1.2650000000000001, 0.267], [1.1500000000000001, 0.274], [1.0350000000000001, 0.278], [0.92, 0.273], [0.805, 0.274], [0.6900000000000001, 0.279], [0.5750000000000001, 0.28], [0.46, 0.275], [0.34500000000000003, 0.27], [0.23, 0.27], [0.115, 0.265], [0.0, 0.256]], "draft_deg": null, "points_as_typed": ""}, "portions": [{"id": "inlet-1", "to_m": null, "colour": "amber", "system_id": null, "boundaries_m": null}], "inclusions": [], "overfill_m": {"value": 0.002, "origin": "measured", "as_typed": "2 mm"}, "soak_m3_m2": {"value": 0.000019999999999999998, "origin": "measured", "as_typed": "20 mL/m2"}}], "format": "cavatum-piece", "reserve": {"value": 0.02, "origin": "measured", "as_typed": "2 %"}, "version": 1, "for_whom": "Fernhollow Arboretum", "layering": "fewest", "system_id": "slow-casting-epoxy", "kind_of_work": "deep pour", "first_pour_at": "2026-11-24T13:00:00Z"}', 'demo', 1, NULL, '2026-11-25 17:18:42.960799+00');
INSERT INTO public.piece_revision VALUES (5, 1, 1, '{"due": null, "name": "Bookend pair", "note": "Sticky on one side: off the ratio.", "tint": "#7A5A8C", "voids": [{"id": "bookend", "name": "Bookend", "wall": "silicone", "count": 2, "shape": {"kind": "box", "depth_m": {"value": 0.04, "origin": "measured", "as_typed": "40 mm"}, "width_m": {"value": 0.09, "origin": "measured", "as_typed": "90 mm"}, "length_m": {"value": 0.14, "origin": "measured", "as_typed": "140 mm"}}, "portions": [{"id": "bookend-1", "to_m": null, "colour": "", "system_id": null, "boundaries_m": null}], "inclusions": [], "overfill_m": null, "soak_m3_m2": null}], "format": "cavatum-piece", "reserve": null, "version": 1, "for_whom": "private commission", "layering": "fewest", "system_id": "casting-epoxy-25", "kind_of_work": "block", "first_pour_at": "2026-10-22T09:00:00+01:00"}', 'demo', 1, NULL, '2026-11-25 17:18:42.960799+00');
INSERT INTO public.piece_revision VALUES (6, 1, 1, '{"due": null, "name": "Door plaque", "note": "Handed over.", "tint": "#5B7A55", "voids": [{"id": "plaque", "name": "Plaque", "wall": "board", "count": 1, "shape": {"kind": "box", "depth_m": {"value": 0.012, "origin": "measured", "as_typed": "12 mm"}, "width_m": {"value": 0.18, "origin": "measured", "as_typed": "180 mm"}, "length_m": {"value": 0.3, "origin": "measured", "as_typed": "300 mm"}}, "portions": [{"id": "plaque-1", "to_m": null, "colour": "", "system_id": null, "boundaries_m": null}], "inclusions": [], "overfill_m": null, "soak_m3_m2": null}], "format": "cavatum-piece", "reserve": null, "version": 1, "for_whom": "Fernhollow Arboretum", "layering": "fewest", "system_id": "casting-epoxy-25", "kind_of_work": "block", "first_pour_at": "2026-11-05T09:00:00Z"}', 'demo', 1, NULL, '2026-11-25 17:18:42.960799+00');

INSERT INTO public.system_version VALUES (1, 'thin-sealing-epoxy', 1, '{"id": "thin-sealing-epoxy", "kits": [{"by": "volume_m3", "amount": 0.00075, "origin": "typical", "price_minor": 2900}, {"by": "volume_m3", "amount": 0.003, "origin": "typical", "price_minor": 9600}], "name": "Thin sealing epoxy 2:1", "note": "", "basis": "volume", "ratio": {"value": 2.0, "origin": "typical", "as_typed": "2:1"}, "rest_s": {"value": 0.0, "origin": "typical", "as_typed": ""}, "stir_s": {"value": 180.0, "origin": "typical", "as_typed": ""}, "version": 1, "bond_to_s": {"value": 32400.0, "origin": "typical", "as_typed": ""}, "demould_s": {"value": 43200.0, "origin": "typical", "as_typed": ""}, "is_filled": false, "room_to_c": {"value": 28.0, "origin": "typical", "as_typed": ""}, "shrinkage": {"value": 0.03, "origin": "typical", "as_typed": ""}, "class_name": "Thin sealing epoxy 2:1", "bond_from_s": {"value": 16200.0, "origin": "typical", "as_typed": ""}, "depth_rules": [{"up_to_kg": null, "most_depth_m": {"value": 0.0005, "origin": "typical", "as_typed": ""}}], "full_cure_s": {"value": 259200.0, "origin": "typical", "as_typed": ""}, "room_from_c": {"value": 18.0, "origin": "typical", "as_typed": ""}, "tack_free_s": {"value": 16200.0, "origin": "typical", "as_typed": ""}, "working_time": {"time_s": {"value": 1800.0, "origin": "typical", "as_typed": ""}, "mass_kg": {"value": 0.15, "origin": "typical", "as_typed": ""}, "criterion": "gel", "temperature_c": {"value": 24.0, "origin": "typical", "as_typed": ""}}, "least_depth_m": null, "colourant_most": {"value": 0.02, "origin": "typical", "as_typed": ""}, "needs_pressure": false, "density_a_kg_m3": {"value": 1100.0, "origin": "typical", "as_typed": ""}, "density_b_kg_m3": {"value": 970.0, "origin": "typical", "as_typed": ""}, "room_humidity_most": {"value": 0.75, "origin": "typical", "as_typed": ""}}', '2026-11-25 17:18:42.960799+00', false);
INSERT INTO public.system_version VALUES (1, 'coating-epoxy', 1, '{"id": "coating-epoxy", "kits": [{"by": "volume_m3", "amount": 0.001, "origin": "typical", "price_minor": 2700}, {"by": "volume_m3", "amount": 0.0038, "origin": "typical", "price_minor": 8400}, {"by": "volume_m3", "amount": 0.015, "origin": "typical", "price_minor": 29000}], "name": "Coating epoxy 1:1", "note": "", "basis": "volume", "ratio": {"value": 1.0, "origin": "typical", "as_typed": "1:1"}, "rest_s": {"value": 240.0, "origin": "typical", "as_typed": ""}, "stir_s": {"value": 180.0, "origin": "typical", "as_typed": ""}, "version": 1, "bond_to_s": {"value": 37800.0, "origin": "typical", "as_typed": ""}, "demould_s": {"value": 43200.0, "origin": "typical", "as_typed": ""}, "is_filled": false, "room_to_c": {"value": 28.0, "origin": "typical", "as_typed": ""}, "shrinkage": {"value": 0.025, "origin": "typical", "as_typed": ""}, "class_name": "Coating epoxy 1:1", "bond_from_s": {"value": 16560.0, "origin": "typical", "as_typed": ""}, "depth_rules": [{"up_to_kg": null, "most_depth_m": {"value": 0.006, "origin": "typical", "as_typed": ""}}], "full_cure_s": {"value": 259200.0, "origin": "typical", "as_typed": ""}, "room_from_c": {"value": 20.0, "origin": "typical", "as_typed": ""}, "tack_free_s": {"value": 19800.0, "origin": "typical", "as_typed": ""}, "working_time": {"time_s": {"value": 2400.0, "origin": "typical", "as_typed": ""}, "mass_kg": {"value": 0.5, "origin": "typical", "as_typed": ""}, "criterion": "gel", "temperature_c": {"value": 24.0, "origin": "typical", "as_typed": ""}}, "least_depth_m": null, "colourant_most": {"value": 0.06, "origin": "typical", "as_typed": ""}, "needs_pressure": false, "density_a_kg_m3": {"value": 1160.0, "origin": "typical", "as_typed": ""}, "density_b_kg_m3": {"value": 1020.0, "origin": "typical", "as_typed": ""}, "room_humidity_most": {"value": 0.7, "origin": "typical", "as_typed": ""}}', '2026-11-25 17:18:42.960799+00', false);
INSERT INTO public.system_version VALUES (1, 'craft-casting-epoxy', 1, '{"id": "craft-casting-epoxy", "kits": [{"by": "volume_m3", "amount": 0.0005, "origin": "typical", "price_minor": 1900}, {"by": "volume_m3", "amount": 0.002, "origin": "typical", "price_minor": 5800}], "name": "Craft casting epoxy 1:1", "note": "", "basis": "volume", "ratio": {"value": 1.0, "origin": "typical", "as_typed": "1:1"}, "rest_s": {"value": 240.0, "origin": "typical", "as_typed": ""}, "stir_s": {"value": 180.0, "origin": "typical", "as_typed": ""}, "version": 1, "bond_to_s": {"value": 39600.0, "origin": "typical", "as_typed": ""}, "demould_s": {"value": 86400.0, "origin": "typical", "as_typed": ""}, "is_filled": false, "room_to_c": {"value": 28.0, "origin": "typical", "as_typed": ""}, "shrinkage": {"value": 0.025, "origin": "typical", "as_typed": ""}, "class_name": "Craft casting epoxy 1:1", "bond_from_s": {"value": 18000.0, "origin": "typical", "as_typed": ""}, "depth_rules": [{"up_to_kg": null, "most_depth_m": {"value": 0.01, "origin": "typical", "as_typed": ""}}], "full_cure_s": {"value": 259200.0, "origin": "typical", "as_typed": ""}, "room_from_c": {"value": 20.0, "origin": "typical", "as_typed": ""}, "tack_free_s": {"value": 21600.0, "origin": "typical", "as_typed": ""}, "working_time": {"time_s": {"value": 2700.0, "origin": "typical", "as_typed": ""}, "mass_kg": {"value": 0.1, "origin": "typical", "as_typed": ""}, "criterion": "gel", "temperature_c": {"value": 24.0, "origin": "typical", "as_typed": ""}}, "least_depth_m": null, "colourant_most": {"value": 0.06, "origin": "typical", "as_typed": ""}, "needs_pressure": false, "density_a_kg_m3": {"value": 1140.0, "origin": "typical", "as_typed": ""}, "density_b_kg_m3": {"value": 1020.0, "origin": "typical", "as_typed": ""}, "room_humidity_most": {"value": 0.7, "origin": "typical", "as_typed": ""}}', '2026-11-25 17:18:42.960799+00', false);
INSERT INTO public.system_version VALUES (1, 'casting-epoxy-25', 1, '{"id": "casting-epoxy-25", "kits": [{"by": "volume_m3", "amount": 0.0015, "origin": "typical", "price_minor": 4300}, {"by": "volume_m3", "amount": 0.006, "origin": "typical", "price_minor": 14800}, {"by": "volume_m3", "amount": 0.012, "origin": "typical", "price_minor": 27000}], "name": "Casting epoxy 2:1, 25 mm", "note": "", "basis": "volume", "ratio": {"value": 2.0, "origin": "typical", "as_typed": "2:1"}, "rest_s": {"value": 600.0, "origin": "typical", "as_typed": ""}, "stir_s": {"value": 300.0, "origin": "typical", "as_typed": ""}, "version": 1, "bond_to_s": {"value": 111600.0, "origin": "typical", "as_typed": ""}, "demould_s": {"value": 162000.0, "origin": "typical", "as_typed": ""}, "is_filled": false, "room_to_c": {"value": 26.0, "origin": "typical", "as_typed": ""}, "shrinkage": {"value": 0.025, "origin": "typical", "as_typed": ""}, "class_name": "Casting epoxy 2:1, 25 mm", "bond_from_s": {"value": 54000.0, "origin": "typical", "as_typed": ""}, "depth_rules": [{"up_to_kg": null, "most_depth_m": {"value": 0.025, "origin": "typical", "as_typed": ""}}], "full_cure_s": {"value": 518400.0, "origin": "typical", "as_typed": ""}, "room_from_c": {"value": 18.0, "origin": "typical", "as_typed": ""}, "tack_free_s": {"value": 54000.0, "origin": "typical", "as_typed": ""}, "working_time": {"time_s": {"value": 21600.0, "origin": "typical", "as_typed": ""}, "mass_kg": {"value": 0.5, "origin": "typical", "as_typed": ""}, "criterion": "gel", "temperature_c": {"value": 24.0, "origin": "typical", "as_typed": ""}}, "least_depth_m": {"value": 0.006, "origin": "typical", "as_typed": ""}, "colourant_most": {"value": 0.06, "origin": "typical", "as_typed": ""}, "needs_pressure": false, "density_a_kg_m3": {"value": 1130.0, "origin": "typical", "as_typed": ""}, "density_b_kg_m3": {"value": 970.0, "origin": "typical", "as_typed": ""}, "room_humidity_most": {"value": 0.7, "origin": "typical", "as_typed": ""}}', '2026-11-25 17:18:42.960799+00', false);
INSERT INTO public.system_version VALUES (1, 'slow-casting-epoxy', 1, '{"id": "slow-casting-epoxy", "kits": [{"by": "mass_kg", "amount": 1.0, "origin": "typical", "price_minor": 2400}, {"by": "mass_kg", "amount": 4.0, "origin": "typical", "price_minor": 8200}, {"by": "mass_kg", "amount": 8.0, "origin": "typical", "price_minor": 15000}, {"by": "mass_kg", "amount": 20.0, "origin": "typical", "price_minor": 34500}], "name": "Slow casting epoxy 3:1", "note": "", "basis": "volume", "ratio": {"value": 3.0, "origin": "typical", "as_typed": "3:1"}, "rest_s": {"value": 0.0, "origin": "typical", "as_typed": ""}, "stir_s": {"value": 360.0, "origin": "typical", "as_typed": ""}, "version": 1, "bond_to_s": {"value": 244800.0, "origin": "typical", "as_typed": ""}, "demould_s": {"value": 259200.0, "origin": "typical", "as_typed": ""}, "is_filled": false, "room_to_c": {"value": 25.0, "origin": "typical", "as_typed": ""}, "shrinkage": {"value": 0.02, "origin": "typical", "as_typed": ""}, "class_name": "Slow casting epoxy 3:1", "bond_from_s": {"value": 140400.0, "origin": "typical", "as_typed": ""}, "depth_rules": [{"up_to_kg": null, "most_depth_m": {"value": 0.04, "origin": "typical", "as_typed": ""}}, {"up_to_kg": {"value": 1.0, "origin": "typical", "as_typed": ""}, "most_depth_m": {"value": 0.1, "origin": "typical", "as_typed": ""}}], "full_cure_s": {"value": 604800.0, "origin": "typical", "as_typed": ""}, "room_from_c": {"value": 18.0, "origin": "typical", "as_typed": ""}, "tack_free_s": {"value": 140400.0, "origin": "typical", "as_typed": ""}, "working_time": {"time_s": {"value": 104400.0, "origin": "typical", "as_typed": ""}, "mass_kg": {"value": 0.5, "origin": "typical", "as_typed": ""}, "criterion": "gel", "temperature_c": {"value": 24.0, "origin": "typical", "as_typed": ""}}, "least_depth_m": {"value": 0.01, "origin": "typical", "as_typed": ""}, "colourant_most": {"value": 0.05, "origin": "typical", "as_typed": ""}, "needs_pressure": false, "density_a_kg_m3": {"value": 1120.0, "origin": "typical", "as_typed": ""}, "density_b_kg_m3": {"value": 980.0, "origin": "typical", "as_typed": ""}, "room_humidity_most": {"value": 0.7, "origin": "typical", "as_typed": ""}}', '2026-11-25 17:18:42.960799+00', false);
INSERT INTO public.system_version VALUES (1, 'fast-casting-polyurethane', 1, '{"id": "fast-casting-polyurethane", "kits": [{"by": "mass_kg", "amount": 1.8, "origin": "typical", "price_minor": 5200}, {"by": "mass_kg", "amount": 7.2, "origin": "typical", "price_minor": 17600}], "name": "Fast casting polyurethane 1:1 by weight", "note": "", "basis": "weight", "ratio": {"value": 1.0, "origin": "typical", "as_typed": "1:1"}, "rest_s": {"value": 0.0, "origin": "typical", "as_typed": ""}, "stir_s": {"value": 180.0, "origin": "typical", "as_typed": ""}, "version": 1, "bond_to_s": {"value": 3600.0, "origin": "typical", "as_typed": ""}, "demould_s": {"value": 14400.0, "origin": "typical", "as_typed": ""}, "is_filled": false, "room_to_c": {"value": 28.0, "origin": "typical", "as_typed": ""}, "shrinkage": {"value": 0.03, "origin": "typical", "as_typed": ""}, "class_name": "Fast casting polyurethane 1:1 by weight", "bond_from_s": {"value": 1200.0, "origin": "typical", "as_typed": ""}, "depth_rules": [{"up_to_kg": null, "most_depth_m": {"value": 0.06, "origin": "typical", "as_typed": ""}}], "full_cure_s": {"value": 86400.0, "origin": "typical", "as_typed": ""}, "room_from_c": {"value": 20.0, "origin": "typical", "as_typed": ""}, "tack_free_s": {"value": 1500.0, "origin": "typical", "as_typed": ""}, "working_time": {"time_s": {"value": 720.0, "origin": "typical", "as_typed": ""}, "mass_kg": {"value": 0.4, "origin": "typical", "as_typed": ""}, "criterion": "too thick to pour", "temperature_c": {"value": 23.0, "origin": "typical", "as_typed": ""}}, "least_depth_m": null, "colourant_most": {"value": 0.03, "origin": "typical", "as_typed": ""}, "needs_pressure": true, "density_a_kg_m3": {"value": 1050.0, "origin": "typical", "as_typed": ""}, "density_b_kg_m3": {"value": 1070.0, "origin": "typical", "as_typed": ""}, "room_humidity_most": {"value": 0.55, "origin": "typical", "as_typed": ""}}', '2026-11-25 17:18:42.960799+00', false);

INSERT INTO public.workshop OVERRIDING SYSTEM VALUE VALUES (1, '{"name": "Quillstone Yard", "week": [[{"to_min": 1140, "from_min": 450}], [{"to_min": 1140, "from_min": 450}], [{"to_min": 1140, "from_min": 450}], [{"to_min": 1140, "from_min": 450}], [{"to_min": 1140, "from_min": 450}], [{"to_min": 780, "from_min": 540}], []], "zone": "Europe/London", "scale": {"most_kg": {"value": 3.0, "origin": "measured", "as_typed": "3 kg"}, "step_kg": {"value": 0.0001, "origin": "measured", "as_typed": "0.1 g"}}, "units": "metric", "cup_m3": {"value": 0.0025, "origin": "measured", "as_typed": "2.5 L"}, "room_c": {"value": 21.4, "origin": "measured", "as_typed": "21.4 C"}, "currency": "GBP", "first_part": "A", "residue_m3": {"value": 0.000004, "origin": "typical", "as_typed": ""}, "room_humidity": {"value": 0.52, "origin": "measured", "as_typed": "52 %"}, "pour_rate_m3_s": 0.000016666666666666667, "residue_fraction": {"value": 0.02, "origin": "typical", "as_typed": ""}}', true, '2026-11-25 17:18:42.960799+00');

SELECT pg_catalog.setval('public.piece_id_seq', 6, true);

SELECT pg_catalog.setval('public.plan_id_seq', 1, false);

SELECT pg_catalog.setval('public.workshop_id_seq', 1, true);

ALTER TABLE ONLY public._yoyo_log
    ADD CONSTRAINT _yoyo_log_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public._yoyo_migration
    ADD CONSTRAINT _yoyo_migration_pkey PRIMARY KEY (migration_hash);

ALTER TABLE ONLY public._yoyo_version
    ADD CONSTRAINT _yoyo_version_pkey PRIMARY KEY (version);

ALTER TABLE ONLY public.piece
    ADD CONSTRAINT piece_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.piece_revision
    ADD CONSTRAINT piece_revision_pkey PRIMARY KEY (piece_id, revision);

ALTER TABLE ONLY public.plan
    ADD CONSTRAINT plan_piece_id_input_hash_made_at_key UNIQUE (piece_id, input_hash, made_at);

ALTER TABLE ONLY public.plan
    ADD CONSTRAINT plan_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.system_version
    ADD CONSTRAINT system_version_pkey PRIMARY KEY (workshop_id, system_id, version);

ALTER TABLE ONLY public.workshop
    ADD CONSTRAINT workshop_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.yoyo_lock
    ADD CONSTRAINT yoyo_lock_pkey PRIMARY KEY (locked);

CREATE INDEX piece_list ON public.piece USING btree (workshop_id, changed_at DESC, id DESC) WHERE (removed_at IS NULL);

CREATE INDEX plan_newest ON public.plan USING btree (workshop_id, piece_id, input_hash, made_at DESC);

ALTER TABLE ONLY public.piece_revision
    ADD CONSTRAINT piece_revision_piece_id_fkey FOREIGN KEY (piece_id) REFERENCES public.piece(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.piece_revision
    ADD CONSTRAINT piece_revision_workshop_id_fkey FOREIGN KEY (workshop_id) REFERENCES public.workshop(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.piece
    ADD CONSTRAINT piece_workshop_id_fkey FOREIGN KEY (workshop_id) REFERENCES public.workshop(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.plan
    ADD CONSTRAINT plan_piece_id_fkey FOREIGN KEY (piece_id) REFERENCES public.piece(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.plan
    ADD CONSTRAINT plan_workshop_id_fkey FOREIGN KEY (workshop_id) REFERENCES public.workshop(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.system_version
    ADD CONSTRAINT system_version_workshop_id_fkey FOREIGN KEY (workshop_id) REFERENCES public.workshop(id) ON DELETE CASCADE;

