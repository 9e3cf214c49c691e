from django.urls import path

from ridgeback.digests import views

app_name = "digests"
urlpatterns = [path("daily-email/", views.digests, name="list")]
