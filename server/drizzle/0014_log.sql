CREATE INDEX "record_order" ON "record" USING btree ("sealed_order");--> statement-breakpoint
CREATE INDEX "record_of_person" ON "record" USING btree ("by","sealed_order");--> statement-breakpoint
CREATE INDEX "record_of_procedure" ON "record" USING btree ("procedure","sealed_order");--> statement-breakpoint
CREATE INDEX "run_of_instrument" ON "run_instrument" USING btree ("instrument");