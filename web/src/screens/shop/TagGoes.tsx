import { useQuery } from "@tanstack/react-query";
import { Navigate, useParams } from "react-router";
import { api, got, Refused } from "../../lib/api";
import { Failure, Loading } from "../../parts/Failure";
import { Nowhere } from "../../parts/Nowhere";

/** Where the code on a label leads: to the sheet in hand, the last one, or the battery's life. */
export function TagGoes() {
  const { tag = "" } = useParams();
  const found = useQuery({
    queryKey: ["tag", tag],
    queryFn: () => got(api.GET("/api/batteries/{tag}/sheet", { params: { path: { tag } } })),
    retry: false,
  });
  if (found.error instanceof Refused && found.error.status === 404)
    return <Nowhere what={`There is no battery ${tag} here.`} more="It may belong to another workshop." />;
  if (found.isError) return <Failure error={found.error} retry={() => void found.refetch()} />;
  if (!found.data) return <Loading what={tag} />;
  const { job_id } = found.data;
  return <Navigate replace to={job_id ? `/jobs/${job_id}` : `/register/${encodeURIComponent(tag)}`} />;
}
