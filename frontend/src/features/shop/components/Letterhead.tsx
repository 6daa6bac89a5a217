import { Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { ErrorNote, FieldGrid, Pending, Row, Ruled, TextLine, useDraft } from "../../../shared";
import { letterheadQuery, useSetLetterhead, type Letterhead as Kept } from "../api";

/** In whose name papers go out; and where prices and the standard are written. */
export function Letterhead() {
  const found = useQuery(letterheadQuery());
  return (
    <Ruled title="Papers and prices">
      {found.isPending && <Pending what="the letterhead" />}
      {found.isError && <ErrorNote error={found.error} />}
      {found.data && <Fields kept={found.data} />}
      <Row>
        <Button component={Link} to="/shop/prices">
          Price list
        </Button>
        <Button component={Link} to="/shop/standard">
          Standard of Look
        </Button>
      </Row>
    </Ruled>
  );
}

function Fields({ kept }: { kept: Kept }) {
  const set = useSetLetterhead();
  const draft = useDraft({ name: kept.name, address: kept.address, contact: kept.contact });
  const said = draft.fields;
  const field = (name: keyof typeof said, label: string) => (
    <TextLine label={label} value={said[name]} onChange={(value) => draft.set({ [name]: value })} />
  );
  return (
    <>
      <FieldGrid columns={3}>
        {field("name", "Name of the shop")}
        {field("address", "Address")}
        {field("contact", "Telephone, e-mail")}
      </FieldGrid>
      <Row>
        <Button
          variant="contained"
          disabled={set.pending}
          onClick={() => set.write({ ...said, version: kept.version }, { onSuccess: () => draft.kept(said) })}
          sx={{ my: 1 }}
        >
          Keep
        </Button>
        {kept.name === "" && (
          <Typography color="text.secondary">Certificate, warranty and invoice need the name.</Typography>
        )}
      </Row>
      {set.error && <ErrorNote error={set.error} />}
    </>
  );
}
