from django.urls import path

from ridgeback.exchange import views

app_name = "exchange"
urlpatterns = [path("import/", views.take_in, name="import")]
